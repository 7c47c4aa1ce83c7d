import { type RefObject, useLayoutEffect, useState } from "react";
import type { Extent } from "../model/viewport";

/** How large an element is, in CSS pixels, also as it changes. */
export function useExtent(of: RefObject<HTMLElement | null>): Extent {
  const [extent, setExtent] = useState<Extent>({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const node = of.current;
    if (!node) return;
    const updateExtent = ({ width, height }: Extent) => setExtent({ width, height });
    updateExtent(node.getBoundingClientRect());
    const watch = new ResizeObserver(([entry]) => entry && updateExtent(entry.contentRect));
    watch.observe(node);
    return () => watch.disconnect();
  }, [of]);
  return extent;
}

import { type RefObject, useEffect } from "react";

/** Hear of clicks outside an element, while `enabled`. */
export function useClickOutside(
  of: RefObject<HTMLElement | null>,
  enabled: boolean,
  heard: () => void,
) {
  useEffect(() => {
    if (!enabled) return;
    const onOutsideClick = (event: PointerEvent) => {
      if (!of.current?.contains(event.target as Node)) heard();
    };
    document.addEventListener("pointerdown", onOutsideClick);
    return () => document.removeEventListener("pointerdown", onOutsideClick);
  }, [of, enabled, heard]);
}

import { chakra } from "@chakra-ui/react";
import type { ReactNode } from "react";
import type { Size } from "./shapes";

const Svg = chakra("svg");

/** Drawn over the picture, in CSS pixels of it; what is not to be taken hold of lets pointers through. */
export function Overlay({
  size,
  title,
  children,
}: {
  size: Size;
  title: string;
  children: ReactNode;
}) {
  return (
    <Svg
      position="absolute"
      inset="0"
      width="100%"
      height="100%"
      pointerEvents="none"
      overflow="visible"
      viewBox={`0 0 ${size.width} ${size.height}`}
      data-overlay
    >
      <title>{title}</title>
      {children}
    </Svg>
  );
}

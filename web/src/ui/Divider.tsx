import { Box } from "@chakra-ui/react";
import { type KeyboardEvent, useRef } from "react";

interface Props {
  label: string;
  /** Which way it moves. */
  way: "across" | "down";
  /** What it divides is so large now, and may be so small and so large. */
  size: number;
  minimum: number;
  maximum: number;
  /** A drag to the right, or down, makes what it divides larger (1) or smaller (-1). */
  grows: 1 | -1;
  /** null puts it back to what it is by itself. */
  onSize: (size: number | null) => void;
}

const THICK = "7px";

/** A bar between two parts of the page: dragged, or moved by the arrow keys; double click puts it back. */
export function Divider({ label, way, size, minimum, maximum, grows, onSize }: Props) {
  const held = useRef<{ at: number; size: number } | null>(null);
  const clampSize = (v: number) => Math.round(Math.min(Math.max(v, minimum), maximum));
  const across = way === "across";
  const press = (event: KeyboardEvent) => {
    const [back, on] = across ? ["ArrowLeft", "ArrowRight"] : ["ArrowUp", "ArrowDown"];
    const by = event.key === back ? -1 : event.key === on ? 1 : 0;
    if (by) onSize(clampSize(size + by * grows * (event.shiftKey ? 80 : 16)));
    else if (event.key === "Enter") onSize(null);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <Box
      position="relative"
      flex="none"
      width={across ? "0" : "auto"}
      height={across ? "auto" : "0"}
    >
      <Box
        role="separator"
        tabIndex={0}
        aria-label={label}
        aria-orientation={across ? "vertical" : "horizontal"}
        aria-valuenow={Math.round(size)}
        aria-valuemin={minimum}
        aria-valuemax={maximum}
        title="Drag it, or use the arrow keys; double click puts it back"
        position="absolute"
        zIndex="3"
        cursor={across ? "col-resize" : "row-resize"}
        {...(across
          ? { top: 0, bottom: 0, left: "-4px", width: THICK }
          : { left: 0, right: 0, top: "-4px", height: THICK })}
        _hover={{ bg: "rgb(160 160 160 / 55%)" }}
        _focusVisible={{ bg: "tide" }}
        style={{ touchAction: "none" }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          held.current = { at: across ? event.clientX : event.clientY, size };
        }}
        onPointerMove={(event) => {
          const from = held.current;
          const now = across ? event.clientX : event.clientY;
          if (from) onSize(clampSize(from.size + grows * (now - from.at)));
        }}
        onPointerUp={() => {
          held.current = null;
        }}
        onPointerCancel={() => {
          held.current = null;
        }}
        onDoubleClick={() => onSize(null)}
        onKeyDown={press}
      />
    </Box>
  );
}

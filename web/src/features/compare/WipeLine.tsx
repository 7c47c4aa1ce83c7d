import { Box } from "@chakra-ui/react";
import { useRef } from "react";
import { setState, useBench } from "../../store/bench";

/** The line between result and comparison: dragged, or moved by the arrow keys. */
export function WipeLine() {
  const wipe = useBench((s) => s.wipe);
  const line = useRef<HTMLDivElement>(null);
  const move = (x: number) => setState({ wipe: Math.min(Math.max(x, 0), 1) });
  return (
    <Box
      ref={line}
      role="slider"
      tabIndex={0}
      aria-label="Wipe"
      aria-valuenow={Math.round(wipe * 100)}
      aria-valuemin={0}
      aria-valuemax={100}
      position="absolute"
      top="0"
      bottom="0"
      width="18px"
      ml="-9px"
      cursor="ew-resize"
      style={{ left: `${wipe * 100}%`, touchAction: "none" }}
      _before={{
        content: '""',
        position: "absolute",
        left: "8px",
        top: 0,
        bottom: 0,
        width: "2px",
        bg: "#ffffff",
      }}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        const rect = line.current?.parentElement?.getBoundingClientRect();
        if (rect && event.currentTarget.hasPointerCapture(event.pointerId))
          move((event.clientX - rect.left) / rect.width);
      }}
      onKeyDown={(event) => {
        const by = event.key === "ArrowLeft" ? -0.01 : event.key === "ArrowRight" ? 0.01 : 0;
        if (by) {
          move(wipe + by * (event.shiftKey ? 10 : 1));
          event.preventDefault();
          event.stopPropagation();
        }
      }}
    />
  );
}

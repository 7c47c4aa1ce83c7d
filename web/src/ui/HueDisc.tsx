import { Box, Flex } from "@chakra-ui/react";
import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import { NumberControl } from "./Number";

const SIDE = 90;
const WHEEL =
  "radial-gradient(closest-side, #808080 0%, rgb(128 128 128 / 0%) 100%), conic-gradient(#f00, #ff0, #0f0, #0ff, #00f, #f0f, #f00)";

interface Props {
  label: string;
  hue: number;
  strength: number;
  lightness: number;
  onTint: (hue: number, strength: number, done: boolean) => void;
  onLightness: (lightness: number, done: boolean) => void;
}

/** A colour to go towards: its hue round the disc (red at the top), its strength from the middle. */
export function HueDisc({ label, hue, strength, lightness, onTint, onLightness }: Props) {
  const disc = useRef<HTMLDivElement>(null);
  const drag = (event: PointerEvent, done: boolean) => {
    const rect = disc.current?.getBoundingClientRect();
    if (!rect) return;
    const x = (event.clientX - rect.left) / (rect.width / 2) - 1;
    const y = (event.clientY - rect.top) / (rect.height / 2) - 1;
    const far = Math.min(Math.hypot(x, y), 1);
    const angle = ((Math.atan2(x, -y) * 180) / Math.PI + 360) % 360;
    onTint(
      far < 0.02 ? hue : Math.round(angle),
      far < 0.02 ? 0 : Math.round(far * 100) / 100,
      done,
    );
  };
  const nudge = (event: KeyboardEvent) => {
    const by = event.shiftKey ? 10 : 1;
    const turns: Record<string, number> = { ArrowLeft: -by, ArrowRight: by };
    const grows: Record<string, number> = { ArrowUp: by / 100, ArrowDown: -by / 100 };
    const turn = turns[event.key];
    const grow = grows[event.key];
    if (turn !== undefined) onTint((hue + turn + 360) % 360, strength, true);
    else if (grow !== undefined)
      onTint(hue, Math.round(Math.min(Math.max(strength + grow, 0), 1) * 100) / 100, true);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const angle = (hue * Math.PI) / 180;
  return (
    <Flex gap="8px" align="center">
      <Box
        ref={disc}
        role="slider"
        tabIndex={0}
        aria-label={`${label}: hue and strength`}
        aria-valuenow={Math.round(100 * strength)}
        aria-valuetext={`hue ${hue.toFixed(0)} degrees, ${(100 * strength).toFixed(0)} %`}
        title="Drag: hue round, strength from the middle. Double click: none. Arrow keys too."
        position="relative"
        width={`${SIDE}px`}
        height={`${SIDE}px`}
        flex="none"
        borderRadius="50%"
        borderWidth="1px"
        borderColor="line"
        cursor="crosshair"
        style={{ background: WHEEL, touchAction: "none", filter: "saturate(0.72)" }}
        userSelect="none"
        onMouseDown={(event) => event.preventDefault()}
        onPointerDown={(event) => {
          event.currentTarget.focus();
          event.currentTarget.setPointerCapture(event.pointerId);
          drag(event, false);
        }}
        onPointerMove={(event) =>
          event.currentTarget.hasPointerCapture(event.pointerId) && drag(event, false)
        }
        onPointerUp={(event) => drag(event, true)}
        onPointerCancel={(event) => drag(event, true)}
        onDoubleClick={() => onTint(hue, 0, true)}
        onKeyDown={nudge}
      >
        <Box
          position="absolute"
          width="12px"
          height="12px"
          ml="-6px"
          mt="-6px"
          borderRadius="50%"
          bg="white"
          borderWidth="2px"
          borderColor="black"
          pointerEvents="none"
          style={{
            left: `${50 + 50 * strength * Math.sin(angle)}%`,
            top: `${50 - 50 * strength * Math.cos(angle)}%`,
          }}
        />
      </Box>
      <Box flex="1" minW="0">
        <Box fontWeight="700">{label}</Box>
        <NumberControl
          label="Hue"
          name={`${label} hue`}
          narrow
          value={hue}
          initial={0}
          softMinimum={0}
          softMaximum={360}
          unit="°"
          onMove={(given, done) => onTint(((given % 360) + 360) % 360, strength, done)}
        />
        <NumberControl
          label="Strength"
          name={`${label} strength`}
          narrow
          value={strength}
          initial={0}
          softMinimum={0}
          softMaximum={1}
          minimum={0}
          maximum={1}
          unit="%"
          scale={100}
          onMove={(given, done) => onTint(hue, given, done)}
        />
        <NumberControl
          label="Lightness"
          name={`${label} lightness`}
          narrow
          value={lightness}
          initial={0}
          softMinimum={-1}
          softMaximum={1}
          unit="%"
          scale={100}
          onMove={onLightness}
        />
      </Box>
    </Flex>
  );
}

import { Box, chakra, Flex } from "@chakra-ui/react";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";

interface Props {
  label: string;
  /** What it is called where the label alone would not tell. */
  name?: string;
  /** It has no effect just now. */
  idle?: boolean;
  narrow?: boolean;
  help?: string;
  value: number;
  initial: number;
  softMinimum: number;
  softMaximum: number;
  minimum?: number;
  maximum?: number;
  unit: string;
  /** Shown = value × scale: 100 for per cent. */
  scale?: number;
  step?: number;
  digits?: number;
  whole?: boolean;
  onMove: (value: number, done: boolean) => void;
}

const Entry = chakra("input");

/** A number: dragged, typed, stepped with the arrow keys (Shift ×10, Alt ÷10), double click resets. */
export function NumberControl(props: Props) {
  const { label, help, value, initial, softMinimum, softMaximum, unit, onMove } = props;
  const name = props.name ?? label;
  const scale = props.scale ?? 1;
  const step = props.step ?? 1;
  const digits = props.digits ?? 0;
  const track = useRef<HTMLDivElement>(null);
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  const text = (value * scale).toFixed(digits);
  const part = Math.min(Math.max((value - softMinimum) / (softMaximum - softMinimum), 0), 1);
  const zero = Math.min(Math.max((0 - softMinimum) / (softMaximum - softMinimum), 0), 1);

  const bounded = (v: number) => {
    const within = Math.min(Math.max(v, props.minimum ?? -1e9), props.maximum ?? 1e9);
    return props.whole ? Math.round(within) : Number(within.toFixed(6));
  };
  const at = (event: PointerEvent) => {
    const rect = track.current?.getBoundingClientRect();
    if (!rect) return value;
    const t = Math.min(Math.max((event.clientX - rect.left) / rect.width, 0), 1);
    const raw = (softMinimum + t * (softMaximum - softMinimum)) * scale;
    return bounded((Math.round(raw / step) * step) / scale);
  };
  const nudge = (event: KeyboardEvent, from: number) => {
    const ways: Record<string, number> = {
      ArrowUp: 1,
      ArrowRight: 1,
      ArrowDown: -1,
      ArrowLeft: -1,
    };
    const way = ways[event.key];
    if (way === undefined) return false;
    const by = step * (event.shiftKey ? 10 : event.altKey && !props.whole ? 0.1 : 1);
    onMove(bounded(from + (way * by) / scale), true);
    event.preventDefault();
    event.stopPropagation();
    return true;
  };
  const commit = () => {
    if (typed === null) return;
    const number = Number(typed.replace(",", ".").replace(unit, "").trim());
    if (typed.trim() === "" || !Number.isFinite(number)) {
      setWrong(true);
      return;
    }
    setWrong(false);
    setTyped(null);
    if (bounded(number / scale) !== value) onMove(bounded(number / scale), true);
  };

  return (
    <Flex
      align="center"
      gap={props.narrow ? "6px" : "10px"}
      height="25px"
      title={help}
      opacity={props.idle ? 0.5 : 1}
    >
      <Box
        flex="1"
        minW="0"
        color="ink"
        whiteSpace="nowrap"
        overflow="hidden"
        textOverflow="ellipsis"
      >
        {label}
      </Box>
      <Box
        ref={track}
        role="slider"
        tabIndex={0}
        aria-label={name}
        aria-valuemin={softMinimum * scale}
        aria-valuemax={softMaximum * scale}
        aria-valuenow={Number(text)}
        aria-valuetext={`${text} ${unit}`}
        position="relative"
        width={props.narrow ? "52px" : "76px"}
        height="20px"
        cursor="ew-resize"
        flex="none"
        borderRadius="4px"
        style={{ touchAction: "none" }}
        userSelect="none"
        onMouseDown={(event) => event.preventDefault()}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          event.currentTarget.focus();
          onMove(at(event), false);
        }}
        onPointerMove={(event) => {
          if (event.currentTarget.hasPointerCapture(event.pointerId)) onMove(at(event), false);
        }}
        onPointerUp={(event) => {
          if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
          event.currentTarget.releasePointerCapture(event.pointerId);
          onMove(at(event), true);
        }}
        onDoubleClick={() => onMove(initial, true)}
        onKeyDown={(event) => nudge(event, value)}
      >
        <Box
          position="absolute"
          top="8.5px"
          left="0"
          right="0"
          height="3px"
          borderRadius="2px"
          bg="line"
        />
        <Box
          position="absolute"
          top="8.5px"
          height="3px"
          borderRadius="2px"
          bg="ink"
          style={{
            left: `${Math.min(part, zero) * 100}%`,
            width: `${Math.abs(part - zero) * 100}%`,
          }}
        />
        <Box
          position="absolute"
          top="4px"
          width="12px"
          height="12px"
          ml="-6px"
          borderRadius="50%"
          bg="sheet"
          borderWidth="2px"
          borderColor="ink"
          style={{ left: `${part * 100}%` }}
        />
      </Box>
      <Flex flex="none" width={props.narrow ? "56px" : "62px"} align="baseline" justify="flex-end">
        <Entry
          aria-label={`${name}, in ${unit || "its own unit"}`}
          aria-invalid={wrong}
          title={
            wrong ? "A number is needed here" : "Type a value; double click puts the default back"
          }
          type="text"
          inputMode="decimal"
          width="34px"
          textAlign="right"
          bg={typed === null ? "transparent" : "sheet"}
          color={wrong ? "ember" : "ink"}
          borderRadius="3px"
          borderBottomWidth="1px"
          borderColor={wrong ? "ember" : "transparent"}
          _hover={{ borderColor: "line" }}
          value={typed ?? text}
          onFocus={(event) => event.currentTarget.select()}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={() => {
            commit();
            setTyped(null);
            setWrong(false);
          }}
          onDoubleClick={() => {
            setTyped(null);
            onMove(initial, true);
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter") commit();
            else if (event.key === "Escape") {
              setTyped(null);
              setWrong(false);
              event.currentTarget.blur();
            } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
              setTyped(null);
              nudge(event, typed === null ? value : Number(typed) / scale || value);
            }
          }}
        />
        <Box as="span" color="mute" fontSize="12px" width="24px" ml="3px">
          {unit}
        </Box>
      </Flex>
    </Flex>
  );
}

import { Box, chakra, Flex, Grid } from "@chakra-ui/react";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { formatFixed } from "../model/words";
import { Label } from "./Label";

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

/** How long a limit stands in the label's place. */
const LIMIT_MS = 5000;

/** How much finer a drag with Shift is. */
const FINE = 10;

/** Where a drag began, or where Shift was pressed or let go in it. */
interface Hold {
  fine: boolean;
  x: number;
  value: number;
}

/** A number: dragged (finely with Shift), typed, stepped with the arrow keys (Shift ×10, Alt ÷10),
 * double click resets. */
export function NumberControl(props: Props) {
  const { label, help, value, initial, softMinimum, softMaximum, unit, onMove } = props;
  const name = props.name ?? label;
  const scale = props.scale ?? 1;
  const step = props.step ?? 1;
  const digits = props.digits ?? 0;
  const track = useRef<HTMLDivElement>(null);
  const [typed, setTyped] = useState<string | null>(null);
  /** What was typed is given up. */
  const dropped = useRef(false);
  const [limit, setLimit] = useState<string | null>(null);
  const text = formatFixed(value * scale, digits);
  const part = Math.min(Math.max((value - softMinimum) / (softMaximum - softMinimum), 0), 1);
  const zero = Math.min(Math.max((0 - softMinimum) / (softMaximum - softMinimum), 0), 1);

  const clampValue = (v: number) => {
    const within = Math.min(Math.max(v, props.minimum ?? -1e9), props.maximum ?? 1e9);
    return props.whole ? Math.round(within) : Number(within.toFixed(6));
  };
  const held = useRef<Hold | null>(null);
  /** The value under the pointer; with Shift it moves a tenth as far, from where Shift was pressed. */
  const at = (event: PointerEvent) => {
    const rect = track.current?.getBoundingClientRect();
    if (!rect) return value;
    const reach = softMaximum - softMinimum;
    const plain = softMinimum + ((event.clientX - rect.left) / rect.width) * reach;
    if (event.shiftKey !== (held.current?.fine ?? false) || !held.current)
      held.current = {
        fine: event.shiftKey,
        x: event.clientX,
        value: event.shiftKey ? value : plain,
      };
    const { fine, x, value: from } = held.current;
    const raw = from + (((event.clientX - x) / rect.width) * reach) / (fine ? FINE : 1);
    const by = fine && !props.whole ? step / FINE : step;
    const soft = Math.min(Math.max(raw, softMinimum), softMaximum);
    return clampValue((Math.round((soft * scale) / by) * by) / scale);
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
    onMove(clampValue(from + (way * by) / scale), true);
    event.preventDefault();
    event.stopPropagation();
    return true;
  };
  /** Take what was typed; what is no number, or beyond the limits, is said where it stands. */
  const commit = () => {
    if (typed === null) return;
    const number = Number(typed.replace(",", ".").replace(unit, "").trim());
    setTyped(null);
    if (typed.trim() === "" || !Number.isFinite(number)) return say("no number");
    const taken = clampValue(number / scale);
    if (taken !== value) onMove(taken, true);
    const [least, most] = [props.minimum, props.maximum];
    if (least !== undefined && number / scale < least) say(`at least ${valueWords(least)}`);
    else if (most !== undefined && number / scale > most) say(`at most ${valueWords(most)}`);
  };
  const valueWords = (v: number) => `${Number((v * scale).toFixed(3))} ${unit}`.trim();
  const say = (words: string) => {
    setLimit(words);
    setTimeout(() => setLimit(null), LIMIT_MS);
  };

  return (
    <Grid
      templateColumns={
        props.narrow
          ? "auto minmax(52px, 1fr) 56px"
          : "minmax(60px, 1fr) minmax(140px, 1.5fr) minmax(57px, max-content)"
      }
      alignItems="center"
      gap={props.narrow ? "6px" : "8px"}
      height="25px"
      title={help}
      opacity={props.idle ? 0.5 : 1}
    >
      <Box
        color={limit ? "ember" : "ink"}
        lineHeight="1"
        overflow="hidden"
        role={limit ? "alert" : undefined}
      >
        {limit ?? <Label>{label}</Label>}
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
        height="20px"
        cursor="ew-resize"
        borderRadius="4px"
        style={{ touchAction: "none" }}
        userSelect="none"
        onMouseDown={(event) => event.preventDefault()}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          event.currentTarget.focus();
          held.current = null;
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
      <Flex align="baseline" justify="flex-end">
        <Entry
          aria-label={unit ? `${name}, in ${unit}` : `${name}, typed`}
          aria-invalid={limit !== null}
          title="Type a value; double click puts the default back"
          type="text"
          inputMode="decimal"
          width="34px"
          height="24px"
          textAlign="right"
          bg={typed === null ? "transparent" : "sheet"}
          color={limit ? "ember" : "ink"}
          borderRadius="3px"
          borderBottomWidth="1px"
          borderColor={limit ? "ember" : "transparent"}
          _hover={{ borderColor: "line" }}
          value={typed ?? text}
          onFocus={(event) => event.currentTarget.select()}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={() => {
            if (!dropped.current) commit();
            dropped.current = false;
          }}
          onDoubleClick={() => {
            setTyped(null);
            onMove(initial, true);
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter") event.currentTarget.blur();
            else if (event.key === "Escape") {
              dropped.current = true;
              setTyped(null);
              event.currentTarget.blur();
            } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
              setTyped(null);
              nudge(event, typed === null ? value : Number(typed) / scale || value);
            }
          }}
        />
        <Box as="span" color="mute" fontSize="12px" minW="20px" ml="3px" whiteSpace="nowrap">
          {unit}
        </Box>
      </Flex>
    </Grid>
  );
}

import { Box, chakra, Flex } from "@chakra-ui/react";
import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import type { Step } from "../../api/client";
import { addedBurst, burstsOf, movedBurst, withBurst, withoutBurst } from "../../model/bursts";
import { keyedNames, keyFrames, movedKeys, namesAt, withoutKeys } from "../../model/keyframes";
import { findStep } from "../../model/lookTree";
import { keyedShape } from "../../model/masks";
import { bench, setState, useBench } from "../../store/bench";
import { changeStep } from "../../store/edits";
import { goTo } from "../../store/playRange";
import { Button } from "../../ui/Button";
import { OverrideScope } from "../fitting/OverrideScope";
import { StrokesLane, useStrokesShown } from "./StrokesLane";
import { TrackLane, useTrackShown } from "./TrackLane";

const Dot = chakra("button");
const LANE = "14px";

export function useOpenStep(): Step | undefined {
  return useBench((s) => (s.look ? findStep(s.look.steps, s.open) : undefined));
}

/** Fields of the mix, as their controls are labelled. */
const OF_MIX: Record<string, string> = {
  "mix.amount": "Amount",
  "mix.tones": "Shows in tones",
  "mix.blend": "Blend",
  "mix.input": "Input",
  "mix.layer": "Lays",
  "mix.out_of_range": "Below black, above white",
};

/** What keys pin, as its control is labelled. */
export function labelOf(step: Step, name: string): string {
  const ofMix = OF_MIX[name];
  if (ofMix) return ofMix;
  const shape = keyedShape(step, name);
  if (shape) {
    const fields = bench().catalogue?.shapes.find((kind) => kind.kind === shape.kind)?.settings;
    const label = fields?.find((field) => field.name === shape.field)?.label ?? shape.field;
    return `${shape.id}, ${label.toLowerCase()}`;
  }
  const treatment = bench().catalogue?.treatments.find((t) => t.kind === step.treatment);
  return treatment?.settings.find((s) => s.name === name)?.label ?? name;
}

/** Which lanes are shown: of keys (null is all of them together), and of bursts. */
interface LanesShown {
  keys: (string | null)[];
  bursts: boolean;
}

/** Lanes take room where there are keys or bursts, and on the page that makes them. */
function useLanesShown(step: Step | undefined): LanesShown {
  const each = useBench((s) => s.lanes);
  const asked = useBench((s) => s.question === "when");
  if (!step) return { keys: [], bursts: false };
  const names = keyedNames(step);
  const several = each && names.length > 1;
  return {
    keys: several ? names : names.length || asked ? [null] : [],
    bursts: asked || burstsOf(step).length > 0,
  };
}

/** What the lanes hold, beside them. */
export function LaneNames() {
  const step = useOpenStep();
  const shown = useLanesShown(step);
  const each = useBench((s) => s.lanes);
  const several = step !== undefined && keyedNames(step).length > 1;
  const track = useTrackShown();
  const strokes = useStrokesShown();
  return (
    <Box fontSize="12px" lineHeight="1">
      {track && (
        <Flex height={LANE} align="center" color="tide">
          Track of {track.track.title}
        </Flex>
      )}
      {strokes !== null && (
        <Flex height={LANE} align="center" color="tide">
          Strokes of {strokes}
        </Flex>
      )}
      {shown.keys.map((name, i) => (
        <Flex key={name ?? "all"} height={LANE} align="center" justify="space-between">
          <Box color="tide" overflow="hidden" whiteSpace="nowrap" textOverflow="ellipsis">
            {name === null || !step ? "Keys" : labelOf(step, name)}
          </Box>
          {step && keyedNames(step).length > 0 && (
            <OverrideScope step={step} lane={name === null ? keyedNames(step) : [name]} />
          )}
          {i === 0 && several && (
            <Button
              small
              tone={each ? "here" : "paper"}
              type="button"
              height="14px"
              px="6px"
              aria-pressed={each}
              title="A lane for each keyed setting"
              onClick={() => setState({ lanes: !each })}
            >
              Each
            </Button>
          )}
        </Flex>
      ))}
      {shown.bursts && (
        <Flex height={LANE} align="center" justify="space-between" color="ember">
          Bursts
          <Beyond step={step} />
          {step && burstsOf(step).length > 0 && <OverrideScope step={step} lane="bursts" />}
        </Flex>
      )}
    </Box>
  );
}

/** Says how many bursts lie beyond the clip's end, where they count for nothing. */
function Beyond({ step }: { step: Step | undefined }) {
  const frames = useBench((s) => s.clip?.frames ?? 0);
  const beyond = step ? burstsOf(step).filter((burst) => burst.from >= frames).length : 0;
  if (!beyond) return null;
  return (
    <Box color="mute" title="They count on longer clips; on this one, what lies within does">
      {beyond} beyond the end
    </Box>
  );
}

/** The open step's keys and bursts, under the filmstrip. */
export function Lanes() {
  const step = useOpenStep();
  const shown = useLanesShown(step);
  const clip = useBench((s) => s.clip);
  if (!clip || !step) return null;
  return (
    <>
      <TrackLane height={LANE} />
      <StrokesLane height={LANE} />
      {shown.keys.map((name) => (
        <KeyLane key={name ?? "all"} step={step} name={name} frames={clip.frames} />
      ))}
      {shown.bursts && <BurstLane step={step} frames={clip.frames} />}
    </>
  );
}

const at = (frame: number, frames: number) => `${((frame + 0.5) / frames) * 100}%`;

function frameUnder(event: PointerEvent, lane: HTMLElement | null, frames: number): number {
  const rect = lane?.getBoundingClientRect();
  if (!rect) return 0;
  const frame = Math.floor(((event.clientX - rect.left) / rect.width) * frames);
  return Math.min(Math.max(frame, 0), frames - 1);
}

const framesBy = (event: KeyboardEvent): number =>
  ({ ArrowLeft: -1, ArrowRight: 1 })[event.key as "ArrowLeft"] * (event.shiftKey ? 10 : 1) || 0;

const ground = {
  position: "relative",
  height: "12px",
  mb: "2px",
  bg: "desk",
  borderRadius: "3px",
} as const;

function KeyLane({ step, name, frames }: { step: Step; name: string | null; frames: number }) {
  const lane = useRef<HTMLDivElement>(null);
  const drag = useRef<{ step: Step; from: number; to: number } | null>(null);
  const picked = useBench((s) => s.picked);
  const what = name === null ? "" : ` of ${labelOf(step, name)}`;
  const label = `Keys${what}`;
  const move = (event: PointerEvent, done: boolean) => {
    const held = drag.current;
    if (!held) return;
    const to = frameUnder(event, lane.current, frames);
    const next = movedKeys(held.step, name, held.from, to, event.altKey);
    if (next !== held.step || to === held.from) held.to = to;
    const landed = movedKeys(held.step, name, held.from, held.to, event.altKey);
    if (held.to !== held.from || landed !== step) changeStep(step.id, () => landed, done);
    setState({ picked: { kind: "keys", frame: held.to, name } });
    if (done) drag.current = null;
  };
  return (
    <Box
      {...ground}
      ref={lane}
      role="group"
      aria-label={label}
      data-lane
      onPointerMove={(event) => {
        if (!drag.current) return;
        event.currentTarget.setPointerCapture(event.pointerId); // a moved key is drawn anew
        move(event, false);
      }}
      onPointerUp={(event) => move(event, true)}
      onPointerCancel={() => {
        drag.current = null;
      }}
    >
      {keyFrames(step, name).map((frame) => {
        const on = picked?.kind === "keys" && picked.frame === frame && picked.name === name;
        const labels = namesAt(step, frame, name).map((n) => labelOf(step, n));
        return (
          <Dot
            key={frame}
            type="button"
            position="absolute"
            top="1px"
            width="10px"
            height="10px"
            ml="-6px"
            borderRadius="50%"
            bg="tide"
            outline={on ? "2px solid" : undefined}
            outlineColor="ink"
            outlineOffset="1px"
            cursor="ew-resize"
            opacity={frame < frames ? 1 : 0.4}
            aria-label={`Key at frame ${frame}: ${labels.join(", ")}`}
            aria-pressed={on}
            title={`${labels.join(", ")} at frame ${frame}. Drag to move, Alt-drag to copy, Delete takes it out`}
            style={{ left: at(Math.min(frame, frames - 1), frames), touchAction: "none" }}
            onMouseDown={(event) => event.preventDefault()}
            onPointerDown={(event) => {
              if (event.button !== 0) return;
              event.currentTarget.setPointerCapture(event.pointerId);
              event.currentTarget.focus();
              drag.current = { step, from: frame, to: frame };
              setState({ picked: { kind: "keys", frame, name } });
            }}
            onDoubleClick={() => goTo(frame)}
            onFocus={() => setState({ picked: { kind: "keys", frame, name } })}
            onKeyDown={(event) => {
              const way = framesBy(event);
              if (way) {
                event.preventDefault();
                event.stopPropagation();
                const to = Math.min(Math.max(frame + way, 0), frames - 1);
                const next = movedKeys(step, name, frame, to, event.altKey);
                if (next === step) return;
                changeStep(step.id, () => next);
                setState({ picked: { kind: "keys", frame: to, name } });
                refocus(lane.current, `Key at frame ${to}:`);
              }
              if (event.key === "Delete" || event.key === "Backspace") {
                event.preventDefault();
                changeStep(step.id, (s) => withoutKeys(s, namesAt(s, frame, name), frame));
                setState({ picked: null });
              }
            }}
          />
        );
      })}
    </Box>
  );
}

/** The button that stands for what had the focus, once it is drawn anew. */
function refocus(lane: HTMLElement | null, label: string) {
  requestAnimationFrame(() =>
    lane?.querySelector<HTMLElement>(`button[aria-label^="${label}"]`)?.focus(),
  );
}

type Grip = "from" | "to" | "all" | "new";

function BurstLane({ step, frames }: { step: Step; frames: number }) {
  const lane = useRef<HTMLDivElement>(null);
  const drag = useRef<{ step: Step; at: number; grip: Grip; start: number; moved: boolean } | null>(
    null,
  );
  const picked = useBench((s) => s.picked);
  const marking = useBench((s) => s.marking);
  const now = useBench((s) => (s.marking === null ? 0 : s.frame));
  const begin = (event: PointerEvent, which: number, grip: Grip) => {
    if (event.button !== 0) return;
    lane.current?.setPointerCapture(event.pointerId);
    const start = frameUnder(event, lane.current, frames);
    drag.current = { step, at: which, grip, start, moved: false };
    setState({ picked: grip === "new" ? null : { kind: "burst", at: which } });
  };
  const move = (event: PointerEvent, done: boolean) => {
    const held = drag.current;
    if (!held) return;
    const frame = frameUnder(event, lane.current, frames);
    held.moved ||= frame !== held.start;
    if (done) drag.current = null;
    if (!held.moved) {
      if (held.grip === "new" && done) goTo(frame);
      return;
    }
    const stepMade = (): Step => {
      if (held.grip === "new") return addedBurst(held.step, held.start, frame);
      if (held.grip === "all") return movedBurst(held.step, held.at, frame - held.start, frames);
      return withBurst(held.step, held.at, { [held.grip]: frame }, frames);
    };
    const next = stepMade();
    changeStep(step.id, () => next, done);
    const first = Math.min(held.start, frame);
    if (held.grip === "new" && done)
      setState({ picked: { kind: "burst", at: burstsOf(next).findIndex((b) => b.to >= first) } });
  };
  return (
    <Box
      {...ground}
      ref={lane}
      role="group"
      aria-label="Bursts"
      data-lane
      title="Drag to draw a burst; hold U while playing to mark one"
      cursor="crosshair"
      style={{ touchAction: "none" }}
      onMouseDown={(event) => event.preventDefault()}
      onPointerDown={(event) => event.target === lane.current && begin(event, -1, "new")}
      onPointerMove={(event) => move(event, false)}
      onPointerUp={(event) => move(event, true)}
      onPointerCancel={() => {
        drag.current = null;
      }}
    >
      {burstsOf(step).map((burst, i) => {
        const on = picked?.kind === "burst" && picked.at === i;
        const first = Math.min(burst.from, frames);
        const width = Math.max(Math.min(burst.to + 1, frames) - first, 0);
        return (
          <Dot
            // biome-ignore lint/suspicious/noArrayIndexKey: bursts are told apart by their order
            key={i}
            type="button"
            position="absolute"
            top="1.5px"
            height="14px"
            minW="4px"
            borderRadius="3px"
            bg="ember"
            outline={on ? "2px solid" : undefined}
            outlineColor="ink"
            outlineOffset="1px"
            cursor="grab"
            aria-label={`Burst ${i + 1}: frames ${burst.from} to ${burst.to}`}
            aria-pressed={on}
            title={`Frames ${burst.from} to ${burst.to}. Drag it or its ends; Delete takes it out`}
            style={{ left: `${(first / frames) * 100}%`, width: `${(width / frames) * 100}%` }}
            onPointerDown={(event) => {
              event.currentTarget.focus();
              const rect = event.currentTarget.getBoundingClientRect();
              const x = event.clientX - rect.left;
              const edge = Math.min(6, rect.width / 3);
              begin(event, i, x < edge ? "from" : x > rect.width - edge ? "to" : "all");
            }}
            onFocus={() => setState({ picked: { kind: "burst", at: i } })}
            onDoubleClick={() => goTo(burst.from)}
            onKeyDown={(event) => {
              const way = framesBy(event);
              if (way) {
                event.preventDefault();
                event.stopPropagation();
                changeStep(step.id, (s) =>
                  event.altKey
                    ? withBurst(s, i, { to: burst.to + way }, frames)
                    : movedBurst(s, i, way, frames),
                );
              }
              if (event.key === "Delete" || event.key === "Backspace") {
                event.preventDefault();
                changeStep(step.id, (s) => withoutBurst(s, i));
                setState({ picked: null });
              }
            }}
          />
        );
      })}
      {marking !== null && (
        <Box
          position="absolute"
          top="1.5px"
          height="14px"
          borderRadius="3px"
          borderWidth="2px"
          borderColor="ember"
          pointerEvents="none"
          style={{
            left: `${(Math.min(marking, now) / frames) * 100}%`,
            width: `${((Math.abs(now - marking) + 1) / frames) * 100}%`,
          }}
        />
      )}
    </Box>
  );
}

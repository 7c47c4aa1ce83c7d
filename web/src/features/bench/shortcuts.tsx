import { Box, chakra, Flex } from "@chakra-ui/react";
import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { keyedNames, toggledKeys } from "../../model/keyframes";
import { findStep } from "../../model/lookTree";
import { bench, setState } from "../../store/bench";
import { markBurst } from "../../store/burstMarking";
import { changeStep } from "../../store/edits";
import { notice } from "../../store/notices";
import { togglePlay } from "../../store/player";
import { goTo, setRange } from "../../store/playRange";
import { renderBench } from "../../store/renders";
import { COMPARES } from "../../store/slices/compare";
import { atFrame } from "../../store/values";
import { Button } from "../../ui/Button";
import { pointer } from "../compare/Wall";
import { step } from "../time/TimeRow";

const KEYS: [string, string][] = [
  ["Space", "play, pause"],
  ["← →", "one frame"],
  ["Shift ← →", "ten frames"],
  ["Home End", "first, last frame"],
  ["Shift Home, Shift End", "what is played begins, ends here"],
  ["B (hold)", "the footage"],
  ["V", "next way to compare"],
  ["Z", "1 : 1 where the pointer is"],
  [", .", "previous, next step"],
  ["O", "open or close the step"],
  ["X", "step on or off"],
  ["N", "add a step"],
  ["K", "key here, of the control in focus or all keyed"],
  ["U (hold in play)", "a burst of the open step"],
  ["Ctrl Z, Ctrl Shift Z", "undo, redo"],
  ["R", "render the clip"],
  ["M, arrows, M", "move the step in focus"],
  ["?", "this list"],
];

let lastOpen: string | null = null;

function neighbour(by: number) {
  const { look, open } = bench();
  const steps = look?.steps ?? [];
  if (!steps.length) return;
  const at = steps.findIndex((s) => s.id === (open ?? lastOpen));
  const to = Math.min(Math.max(at + by, 0), steps.length - 1);
  setState({ open: steps[to]?.id ?? null });
}

function toggleOpen() {
  const { open, look } = bench();
  if (open) lastOpen = open;
  const again = look?.steps.find((s) => s.id === lastOpen) ?? look?.steps[0];
  setState({ open: open ? null : (again?.id ?? null) });
}

function toggleStep() {
  const { open } = bench();
  if (open) changeStep(open, (s) => ({ ...s, on: !s.on }));
}

/** Pin at the play head what has the focus; else all that the open step has keyed. */
function keyHere() {
  const { look, open, frame } = bench();
  const written = look && findStep(look.steps, open);
  if (!written) return;
  const focused = document.activeElement?.closest<HTMLElement>("[data-keyed]")?.dataset.keyed;
  const names = focused?.split(" ") ?? keyedNames(written);
  if (!names.length) {
    const how = "Put the focus on a control first, or click the ring beside it";
    notice("look", `Nothing of this step is keyed yet. ${how}.`);
    return;
  }
  const shown = atFrame(written, frame);
  changeStep(written.id, (s) => toggledKeys(s, shown, names, frame));
}

/** What is picked in a lane keeps the focus, to be moved and taken out by keys. */
const inLane = (target: EventTarget | null) =>
  target instanceof Element && target.closest("[data-lane]") !== null;

/** A button clicked with the pointer gives its focus up, so that Space plays and does not click it. */
function letGo(event: MouseEvent) {
  const button = event.target instanceof Element && event.target.closest("button");
  if (inLane(event.target)) return;
  if (event.detail > 0 && button && button === document.activeElement) button.blur();
}

/** The product's keys; typing in a field is left alone. */
export function useShortcuts() {
  useHotkeys("space", () => togglePlay(), { preventDefault: true, ignoreEventWhen: onButton });
  useHotkeys("left", () => step(-1));
  useHotkeys("right", () => step(1));
  useHotkeys("shift+left", () => step(-10));
  useHotkeys("shift+right", () => step(10));
  useHotkeys("home", () => goTo(0));
  useHotkeys("shift+home", () => setRange("first", bench().frame));
  useHotkeys("shift+end", () => setRange("last", bench().frame));
  useHotkeys("end", () => goTo((bench().clip?.frames ?? 1) - 1));
  useHotkeys("v", () => {
    const at = COMPARES.indexOf(bench().compare);
    setState({ compare: COMPARES[(at + 1) % COMPARES.length] ?? "plain" });
  });
  useHotkeys("z", () => setState({ trueSize: !bench().trueSize, centre: pointer.at }));
  useHotkeys("comma", () => neighbour(-1));
  useHotkeys("period", () => neighbour(1));
  useHotkeys("o", toggleOpen);
  useHotkeys("x", toggleStep);
  useHotkeys("n", () => window.dispatchEvent(new Event("add-step")), { preventDefault: true });
  useHotkeys("r", () => void renderBench());
  useHotkeys("k", keyHere);
  useHotkeys("escape", () => setState({ shortcutsShown: false }));
  useEffect(() => {
    document.addEventListener("click", letGo);
    return () => document.removeEventListener("click", letGo);
  }, []);
  useEffect(() => {
    const typing = (event: KeyboardEvent) =>
      event.target instanceof HTMLInputElement || event.target instanceof HTMLSelectElement;
    const down = (event: KeyboardEvent) => {
      if (typing(event) || event.ctrlKey || event.metaKey) return;
      if (event.key === "b" && !event.repeat) setState({ holding: true });
      if (event.key === "u" && !event.repeat) markBurst(true);
      if (event.key === "?") setState({ shortcutsShown: !bench().shortcutsShown });
    };
    const up = (event: KeyboardEvent) => {
      if (event.key === "b") setState({ holding: false });
      if (event.key === "u") markBurst(false);
    };
    const away = () => setState({ holding: false, marking: null });
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", away);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", away);
    };
  }, []);
}

const onButton = (event: KeyboardEvent) =>
  event.target instanceof HTMLButtonElement && !inLane(event.target);

/** The keys, on the wall, until they are put away. */
export function ShortcutsSheet() {
  return (
    <Box
      role="dialog"
      aria-label="Keys"
      position="absolute"
      top="16px"
      left="130px"
      zIndex="8"
      bg="paper"
      color="ink"
      borderRadius="8px"
      p="16px"
      width="340px"
      boxShadow="0 6px 24px rgb(0 0 0 / 30%)"
    >
      <Flex justify="space-between" align="baseline" mb="8px">
        <Box as="h2" fontFamily="felt" fontStyle="italic" fontSize="18px">
          Keys
        </Box>
        <Button small type="button" onClick={() => setState({ shortcutsShown: false })}>
          Put away
        </Button>
      </Flex>
      {KEYS.map(([keys, does]) => (
        <Flex key={keys} justify="space-between" lineHeight="1.6">
          <chakra.span fontWeight="700">{keys}</chakra.span>
          <span>{does}</span>
        </Flex>
      ))}
    </Box>
  );
}

import { Box, chakra, Flex } from "@chakra-ui/react";
import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { busyWith } from "../../api/busy";
import { keyedNames, toggledKeys } from "../../model/keyframes";
import { findStep } from "../../model/lookTree";
import { bench, setState } from "../../store/bench";
import { markBurst } from "../../store/burstMarking";
import { copiedText, duplicateStep, pasteText } from "../../store/copying";
import { changeStep } from "../../store/edits";
import { isDrawing, leaveLifting } from "../../store/lifting";
import { treatmentOf } from "../../store/look";
import { notice } from "../../store/notices";
import { togglePlay } from "../../store/player";
import { goTo, setRange } from "../../store/playRange";
import { proofControl } from "../../store/proofs";
import { renderBench } from "../../store/renders";
import { leaveAlone, toggleAlone } from "../../store/room";
import { COMPARES } from "../../store/slices/compare";
import { atFrame } from "../../store/values";
import { zoomBy, zoomTo } from "../../store/zoom";
import { Button } from "../../ui/Button";
import { step } from "../time/TimeRow";

const KEYS: [string, string][] = [
  ["Space", "play, pause"],
  ["← →", "one frame"],
  ["Shift ← →", "ten frames"],
  ["Home End", "first, last frame"],
  ["Shift Home, Shift End", "what is played begins, ends here"],
  ["B (hold)", "the footage"],
  ["V", "next way to compare"],
  ["Z", "1 : 1 where the pointer is, and back"],
  ["+ −", "nearer, further, about the pointer"],
  ["F", "the picture alone, and back"],
  [", .", "previous, next step"],
  ["O", "open or close the step"],
  ["X", "step on or off"],
  ["W", "where the open step shows"],
  ["H", "the highlights that the open step's light is from"],
  ["N", "add a step"],
  ["D", "make the open step twice"],
  ["Ctrl C, Ctrl V", "copy the step, or those chosen; paste steps"],
  ["K", "key here, of the control in focus or all keyed"],
  ["S", "a proof sheet of the control in focus"],
  ["U (hold in play)", "a burst of the open step"],
  ["Ctrl Z, Ctrl Shift Z", "undo, redo"],
  ["R", "render the clip"],
  ["M, arrows, M", "move the step in focus"],
  ["↑ ↓, C (in Reel)", "from cut to cut; cut here"],
  ["Esc", "close what is open"],
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

function nextCompare() {
  const at = COMPARES.indexOf(bench().compare);
  setState({ compare: COMPARES[(at + 1) % COMPARES.length] ?? "plain" });
}

/** The open step's page that says where it shows, or back to what it does. */
function askWhere() {
  if (!bench().open) toggleOpen();
  setState({ question: bench().question === "where" ? "what" : "where" });
}

/** The highlights of the open step, or the result again. */
function seeHighlights() {
  const { open, look, examined } = bench();
  const opened = look && findStep(look.steps, open);
  if (!opened || !treatmentOf(opened)?.from_highlights) {
    const which = "open a step whose light is from them first, as a glow's is";
    notice("look", `H shows highlights: ${which}.`);
    return;
  }
  const seen = examined?.step === opened.id && examined.show === "highlights";
  setState({ examined: seen ? null : { step: opened.id, show: "highlights" } });
}

function toggleStep() {
  const { open } = bench();
  if (open) changeStep(open, (s) => ({ ...s, on: !s.on }));
}

/** Escape closes what is open, the topmost first; a step last. */
function closeTopmost() {
  const now = bench();
  if (now.shortcutsShown) setState({ shortcutsShown: false });
  else if (now.looksShown) setState({ looksShown: false });
  else if (now.alone) leaveAlone();
  else if (now.picking) setState({ picking: null });
  else if (isDrawing()) leaveLifting();
  else if (now.drawing) setState({ drawing: false });
  else if (now.starters) setState({ starters: false });
  else if (now.examined) setState({ examined: null });
  else if (now.chosen.size) setState({ chosen: new Set() });
  else if (now.open) toggleOpen();
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

/** A proof sheet of what has the focus. */
function proofHere() {
  const { open } = bench();
  const name = document.activeElement?.closest<HTMLElement>("[data-control]")?.dataset.control;
  if (open && name) proofControl(open, name.split(" ")[0] ?? name);
  else notice("look", "Put the focus on a control first; S opens a proof sheet of it.");
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

const TYPING = "input, select, textarea";

/** Copy the chosen steps, or the open one, as text; paste the steps of a look that is text. */
function useClipboard(enabled: boolean) {
  useEffect(() => {
    if (!enabled) return;
    const elsewhere = (event: ClipboardEvent) =>
      (event.target instanceof Element && event.target.closest(TYPING)) ||
      window.getSelection()?.toString();
    const copy = (event: ClipboardEvent) => {
      const text = elsewhere(event) ? null : copiedText();
      if (text === null) return;
      event.clipboardData?.setData("text/plain", text);
      event.preventDefault();
    };
    const paste = (event: ClipboardEvent) => {
      if (event.target instanceof Element && event.target.closest(TYPING)) return;
      const text = event.clipboardData?.getData("text/plain") ?? "";
      if (text) void busyWith(pasteText(text));
    };
    document.addEventListener("copy", copy);
    document.addEventListener("paste", paste);
    return () => {
      document.removeEventListener("copy", copy);
      document.removeEventListener("paste", paste);
    };
  }, [enabled]);
}

/** The product's keys; typing in a field is left alone, and nothing is heard while not `enabled`. */
export function useShortcuts(enabled: boolean) {
  const on = { enabled };
  useHotkeys("space", () => togglePlay(), {
    enabled,
    preventDefault: true,
    ignoreEventWhen: onButton,
  });
  useHotkeys("left", () => step(-1), on);
  useHotkeys("right", () => step(1), on);
  useHotkeys("shift+left", () => step(-10), on);
  useHotkeys("shift+right", () => step(10), on);
  useHotkeys("home", () => goTo(0), on);
  useHotkeys("shift+home", () => setRange("first", bench().frame), on);
  useHotkeys("shift+end", () => setRange("last", bench().frame), on);
  useHotkeys("end", () => goTo((bench().clip?.frames ?? 1) - 1), on);
  useHotkeys("v", nextCompare, on);
  useHotkeys("z", () => zoomTo(bench().zoom === 1 ? null : 1), on);
  useHotkeys("equal, shift+equal, add", () => zoomBy(1), on);
  useHotkeys("minus, subtract", () => zoomBy(-1), on);
  useHotkeys("comma", () => neighbour(-1), on);
  useHotkeys("period", () => neighbour(1), on);
  useHotkeys("f", toggleAlone, on);
  useHotkeys("o", toggleOpen, on);
  useHotkeys("x", toggleStep, on);
  useHotkeys("d", () => duplicateStep(bench().open ?? ""), on);
  useHotkeys("w", askWhere, on);
  useHotkeys("h", seeHighlights, on);
  useHotkeys("n", () => setState({ adding: true, alone: false }), { ...on, preventDefault: true });
  useHotkeys("r", () => void renderBench(), on);
  useHotkeys("k", keyHere, on);
  useHotkeys("s", proofHere, on);
  useHotkeys("escape", closeTopmost, on);
  useClipboard(enabled);
  useEffect(() => {
    document.addEventListener("click", letGo);
    return () => document.removeEventListener("click", letGo);
  }, []);
  useEffect(() => {
    if (!enabled) return;
    const onKeyDown = (event: KeyboardEvent) => {
      const typing = event.target instanceof Element && event.target.matches(TYPING);
      if (typing || event.ctrlKey || event.metaKey) return;
      if (event.key === "b" && !event.repeat) setState({ holding: true });
      if (event.key === "u" && !event.repeat) markBurst(true);
      if (event.key === "?") setState({ shortcutsShown: !bench().shortcutsShown });
    };
    const onKeyUp = (event: KeyboardEvent) => {
      if (event.key === "b") setState({ holding: false });
      if (event.key === "u") markBurst(false);
    };
    const onBlur = () => setState({ holding: false, marking: null });
    window.addEventListener("keydown", onKeyDown);
    window.addEventListener("keyup", onKeyUp);
    window.addEventListener("blur", onBlur);
    return () => {
      window.removeEventListener("keydown", onKeyDown);
      window.removeEventListener("keyup", onKeyUp);
      window.removeEventListener("blur", onBlur);
    };
  }, [enabled]);
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
          Close
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

import { Box, Flex } from "@chakra-ui/react";
import type { Ease, Step } from "../../api/client";
import { keysOf, movedKeys, namesAt, withEase, withoutKeys } from "../../model/keyframes";
import { setState, useBench } from "../../store/bench";
import { changeStep } from "../../store/edits";
import { treatmentOf } from "../../store/look";
import { goTo } from "../../store/playRange";
import { useAtFrame, useValues } from "../../store/values";
import { Button } from "../../ui/Button";
import { ChoiceButtons } from "../../ui/ChoiceButtons";
import { EaseEditor } from "../../ui/EaseEditor";
import { NumberField } from "../../ui/NumberField";
import { Columns } from "../step/Columns";
import { SettingControl } from "../step/SettingControl";
import { labelOf, useOpenStep } from "./Lanes";

/** The cubic Bézier named `ease` (W3C CSS Easing Functions Level 1). */
const EASE: [number, number, number, number] = [0.25, 0.1, 0.25, 1];

const EASES: [string, Ease, string][] = [
  ["hold", "hold", "Stays until the next key"],
  ["straight", "straight", "Goes evenly to the next key"],
  ["ease", "ease", "Sets off gently and arrives gently"],
];

/** What there is to do while nothing is picked. */
export function Hint({ children }: { children: string }) {
  return (
    <Flex align="center" minH="26px" mt="5px" fontSize="12px" color="mute">
      {children}
    </Flex>
  );
}

/** The keys that are picked: where they are, and how they lead on. */
export function KeyStrip() {
  const step = useOpenStep();
  const picked = useBench((s) => s.picked);
  const clip = useBench((s) => s.clip);
  const now = useBench((s) => (s.picked ? s.frame : 0));
  const next = useValues((s) => s.known?.values.next ?? null);
  if (!step || !clip) return null;
  const { frame, name } = picked?.kind === "keys" ? picked : { frame: -1, name: null };
  const names = namesAt(step, frame, name);
  const ease = keysOf(step, names[0] ?? "").find((k) => k.frame === frame)?.ease;
  if (!names.length || ease === undefined)
    return (
      <Hint>
        K pins the control in focus at this frame, the ring beside a control too. Draw bursts in
        their lane, or hold U while it plays.
      </Hint>
    );
  const move = (to: number, copy = false) => {
    changeStep(step.id, (s) => movedKeys(s, name, frame, to, copy));
    setState({ picked: { kind: "keys", frame: to, name } });
  };
  const lead = (way: Ease, done = true) =>
    changeStep(step.id, (s) => withEase(s, name, frame, way), done);
  const own = Array.isArray(ease);
  return (
    <>
      <Flex
        role="group"
        aria-label="Picked key"
        align="center"
        gap="8px"
        fontSize="12px"
        mt="5px"
        minH="26px"
        wrap="wrap"
      >
        <Box color="tide" fontWeight="700" maxW="220px" truncate>
          {names.map((n) => labelOf(step, n)).join(", ")}
        </Box>
        <Box>at frame</Box>
        <NumberField
          label="Frame of the key"
          value={frame}
          minimum={0}
          maximum={clip.frames - 1}
          onEnter={(to) => move(to)}
        />
        <Box>then</Box>
        <Flex role="group" aria-label="Leads on" gap="3px">
          <ChoiceButtons
            choices={EASES.map(([word, value, hint]) => ({ value, word, hint }))}
            chosen={ease}
            height="24px"
            onChoose={lead}
          />
          <Button
            small
            height="24px"
            type="button"
            tone={own ? "here" : "paper"}
            aria-pressed={own}
            title="Bent by two handles"
            onClick={() => lead(own ? ease : EASE)}
          >
            by hand
          </Button>
        </Flex>
        {own && <EaseEditor handles={ease} onMove={lead} />}
        <Box flex="1" />
        <Button
          small
          height="24px"
          type="button"
          disabled={now === frame}
          title="Copy the key to the play head"
          onClick={() => move(now, true)}
        >
          Copy to frame {now}
        </Button>
        <Button
          small
          height="24px"
          type="button"
          title="Remove the key (Delete)"
          onClick={() => {
            changeStep(step.id, (s) => withoutKeys(s, names, frame));
            setState({ picked: null });
          }}
        >
          Remove
        </Button>
        {next !== null && (
          <Button
            small
            height="24px"
            type="button"
            title="The middle of the widest stretch without a key that was not looked at yet"
            onClick={() => goTo(next)}
          >
            Check frame {next}
          </Button>
        )}
      </Flex>
      {now === frame ? (
        <KeyedValues step={step} names={names} />
      ) : (
        <Button small type="button" mt="6px" onClick={() => goTo(frame)}>
          Go to frame {frame}, to see its values
        </Button>
      )}
    </>
  );
}

/** The controls of what is picked, as it is at the play head: a change there makes a key there. */
function KeyedValues({ step: written, names }: { step: Step; names: string[] }) {
  const step = useAtFrame(written);
  const settings = treatmentOf(step)?.settings.filter((s) => names.includes(s.name)) ?? [];
  return (
    <Columns>
      {settings.map((setting) => (
        <SettingControl key={setting.name} step={step} setting={setting} />
      ))}
    </Columns>
  );
}

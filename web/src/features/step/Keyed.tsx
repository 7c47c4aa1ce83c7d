import { Box, chakra } from "@chakra-ui/react";
import type { ReactNode } from "react";
import type { Step } from "../../api/client";
import { keysOf, toggledKeys } from "../../model/keyframes";
import { bench, useBench } from "../../store/bench";
import { changeStep } from "../../store/edits";
import { AfterLabels } from "../../ui/Label";
import { OwnMark } from "../fitting/OwnMark";

const Mark = chakra("button");

interface Props {
  /** As it is at the play head. */
  step: Step;
  names: string[];
  label: string;
}

/** A control, in the gap before it the mark of its keys, and after its label that it is this clip's own. */
export function Keyed({
  step,
  names,
  label,
  keyable = true,
  children,
}: Props & { keyable?: boolean; children: ReactNode }) {
  return (
    <Box
      position="relative"
      className="keyed"
      data-keyed={keyable ? names.join(" ") : undefined}
      data-control={names.join(" ")}
    >
      {keyable && (
        <Box position="absolute" left="-13px" top="6px">
          <KeyMark step={step} names={names} label={label} />
        </Box>
      )}
      <AfterLabels value={<OwnMark step={step.id} names={names} label={label} />}>
        {children}
      </AfterLabels>
    </Box>
  );
}

/** Full at a key, a ring between keys, and seen only near the control where there are none. */
export function KeyMark({ step, names, label }: Props) {
  const some = names.some((name) => keysOf(step, name).length > 0);
  const here = useBench(
    (s) => some && names.every((name) => keysOf(step, name).some((k) => k.frame === s.frame)),
  );
  return (
    <Mark
      type="button"
      tabIndex={-1}
      display="block"
      aria-label={`Key of ${label} here`}
      aria-pressed={here}
      title={here ? "Let go of the key here (K)" : "Pin it at this frame (K)"}
      data-key-mark={some ? (here ? "full" : "ring") : "none"}
      width="12px"
      height="12px"
      borderRadius="50%"
      borderWidth="2px"
      borderColor="tide"
      bg={here ? "tide" : "transparent"}
      opacity={some ? 1 : 0}
      css={{ ".keyed:hover &, .keyed:focus-within &, &:focus-visible": { opacity: 1 } }}
      cursor="pointer"
      onClick={() => changeStep(step.id, (s) => toggledKeys(s, step, names, bench().frame))}
    />
  );
}

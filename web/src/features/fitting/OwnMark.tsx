import { chakra } from "@chakra-ui/react";
import { giveBack, useOwnParts } from "../../store/fittings";

const Mark = chakra("button");

interface Props {
  /** The step's id. */
  step: string;
  /** As keys are named. */
  names: string[];
  label: string;
}

/** Says after a label that it is this clip's own, and gives it back. */
export function OwnMark({ step, names, label }: Props) {
  const parts = useOwnParts(step, names);
  if (!parts.length) return null;
  return (
    <Mark
      type="button"
      ml="6px"
      px="3px"
      fontSize="10px"
      lineHeight="12px"
      color="ember"
      borderWidth="1px"
      borderColor="ember"
      borderRadius="3px"
      bg="paper"
      cursor="pointer"
      aria-label={`${label} is this clip's own: give it back`}
      title={`${label} is this clip's own. A click gives it back: it is as every clip has it`}
      data-own={names.join(" ")}
      onClick={() => giveBack(parts)}
    >
      own
    </Mark>
  );
}

import type { Step } from "../../api/client";
import { useClips } from "../../store/clips";
import { makeEveryones, makeOwn, partsOfLane, useOwn } from "../../store/fittings";
import { Button } from "../../ui/Button";

interface Props {
  step: Step;
  /** The mask, the bursts, or keys by their names. */
  lane: "mask" | "bursts" | string[];
}

/** Says whose a lane or a mask is, this clip's or every clip's; a click makes it the other's. */
export function OverrideScope({ step, lane }: Props) {
  const own = useOwn(step.id);
  const several = (useClips().data?.length ?? 0) > 1;
  if (!several) return null;
  const mine =
    lane === "mask"
      ? "mask" in own.mix
      : lane === "bursts"
        ? own.bursts !== null
        : lane.some((name) => name in own.keys);
  const parts = partsOfLane(step.id, lane);
  const what = typeof lane === "string" ? `the ${lane}` : "the keys";
  return (
    <Button
      small
      tone="bare"
      type="button"
      height={lane === "mask" ? "24px" : "14px"}
      px="4px"
      fontSize="11px"
      color={mine ? "ember" : "mute"}
      data-whose={mine ? "this" : "every"}
      title={
        mine
          ? `${what} here are this clip's own. A click has every clip have them`
          : `Every clip has ${what}. A click makes them this clip's alone`
      }
      onClick={() => (mine ? makeEveryones(parts) : makeOwn(parts))}
    >
      {mine ? "this clip's" : "every clip's"}
    </Button>
  );
}

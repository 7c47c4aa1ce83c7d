import { setState, useBench } from "../../store/bench";
import { Button } from "../../ui/Button";

const WORDS = { weight: "See weight", layer: "See layer", highlights: "See highlights" };

/** Shows something of a step on the wall instead of the result; its child says what. */
export function Examine({
  step,
  show,
  children,
}: {
  step: string;
  show: keyof typeof WORDS;
  children: string;
}) {
  const seen = useBench((s) => s.examined?.step === step && s.examined.show === show);
  return (
    <Button
      small
      tone={seen ? "here" : "paper"}
      type="button"
      height="24px"
      px="7px"
      aria-pressed={seen}
      title={children}
      onClick={() => setState({ examined: seen ? null : { step, show } })}
    >
      {WORDS[show]}
    </Button>
  );
}

import { chakra } from "@chakra-ui/react";
import { type KeyboardEvent, useState } from "react";

const Input = chakra("input");

interface Props {
  label: string;
  value: number;
  least: number;
  most: number;
  /** Digits behind the point; none are whole numbers. */
  digits?: number;
  onSay: (value: number) => void;
}

/** A number that is typed, or stepped with the arrow keys (Shift ×10). */
export function NumberField({ label, value, least, most, digits = 0, onSay }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const said = Number((typed ?? "").replace(",", "."));
  const wrong = typed !== null && (typed.trim() === "" || !(said >= least && said <= most));
  const round = (v: number) => Number(v.toFixed(digits));
  const commit = () => {
    if (typed !== null && !wrong) onSay(round(said));
    setTyped(null);
  };
  const nudge = (event: KeyboardEvent) => {
    const way = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (!way) return false;
    event.preventDefault();
    setTyped(null);
    const by = (way * (event.shiftKey ? 10 : 1)) / 10 ** digits;
    onSay(Math.min(Math.max(round(value + by), least), most));
    return true;
  };
  return (
    <Input
      aria-label={label}
      aria-invalid={wrong}
      title={`${label}: ${least} to ${most}`}
      inputMode="decimal"
      width="46px"
      height="24px"
      px="5px"
      textAlign="right"
      fontSize="12px"
      bg="sheet"
      color={wrong ? "ember" : "ink"}
      borderWidth="1px"
      borderColor={wrong ? "ember" : "line"}
      borderRadius="5px"
      value={typed ?? value.toFixed(digits)}
      onFocus={(event) => event.currentTarget.select()}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        if (nudge(event)) return;
        if (event.key === "Enter") commit();
        if (event.key === "Escape") setTyped(null);
      }}
    />
  );
}

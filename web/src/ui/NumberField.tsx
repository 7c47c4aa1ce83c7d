import { chakra } from "@chakra-ui/react";
import { type KeyboardEvent, useState } from "react";

const Input = chakra("input");

interface Props {
  label: string;
  value: number;
  minimum: number;
  maximum: number;
  /** Digits behind the point; none are whole numbers. */
  digits?: number;
  onEnter: (value: number) => void;
}

/** A number that is typed, or stepped with the arrow keys (Shift ×10). */
export function NumberField({ label, value, minimum, maximum, digits = 0, onEnter }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const entered = Number((typed ?? "").replace(",", "."));
  const wrong =
    typed !== null && (typed.trim() === "" || !(entered >= minimum && entered <= maximum));
  const roundValue = (v: number) => Number(v.toFixed(digits));
  const commit = () => {
    if (typed !== null && !wrong) onEnter(roundValue(entered));
    setTyped(null);
  };
  const nudge = (event: KeyboardEvent) => {
    const way = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (!way) return false;
    event.preventDefault();
    setTyped(null);
    const by = (way * (event.shiftKey ? 10 : 1)) / 10 ** digits;
    onEnter(Math.min(Math.max(roundValue(value + by), minimum), maximum));
    return true;
  };
  return (
    <Input
      aria-label={label}
      aria-invalid={wrong}
      title={`${label}: ${minimum} to ${maximum}`}
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
        if (event.key === "Enter") event.currentTarget.blur(); // which takes it
        if (event.key === "Escape") setTyped(null);
      }}
    />
  );
}

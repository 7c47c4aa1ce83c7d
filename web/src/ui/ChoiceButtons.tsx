import type { ComponentProps, ReactNode } from "react";
import { Button } from "./Button";

interface Props<T> extends Omit<ComponentProps<typeof Button>, "value" | "onClick" | "tone"> {
  choices: readonly { value: T; word: ReactNode; hint?: string; disabled?: boolean }[];
  chosen: T | null;
  /** What they stand on, which decides how the chosen one is seen. */
  ground?: "paper" | "wall";
  onChoose: (value: T) => void;
}

/** Buttons of which one is chosen; the rest of the props go to each of them. */
export function ChoiceButtons<T>({
  choices,
  chosen,
  ground = "paper",
  onChoose,
  ...each
}: Props<T>) {
  const on = ground === "wall" ? "wallOn" : "here";
  return choices.map(({ value, word, hint, disabled }) => (
    <Button
      key={String(value)}
      small
      type="button"
      {...each}
      tone={chosen === value ? on : ground}
      aria-pressed={chosen === value}
      title={hint}
      disabled={disabled}
      onClick={() => onChoose(value)}
    >
      {word}
    </Button>
  ));
}

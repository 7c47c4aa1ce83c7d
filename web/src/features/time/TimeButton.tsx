import type { ReactNode } from "react";
import { useBench } from "../../store/bench";
import { Button } from "../../ui/Button";

interface Props {
  label: string;
  title: string;
  on?: boolean;
  disabled?: boolean;
  onClick: () => void;
  children: ReactNode;
}

/** A small button of the time row. */
export function TimeButton({ label, title, on, disabled, onClick, children }: Props) {
  const clip = useBench((s) => s.clip);
  return (
    <Button
      type="button"
      width="24px"
      height="24px"
      px="0"
      tone={on ? "here" : "paper"}
      disabled={!clip || disabled}
      aria-label={label}
      aria-pressed={on}
      title={title}
      onClick={onClick}
    >
      {children}
    </Button>
  );
}

import { useState } from "react";
import { useBench } from "../../store/bench";
import { TextField } from "../../ui/TextField";

interface Props {
  label: string;
  name: string;
  maxLength: number;
  small?: boolean;
  onNamed: (name: string) => void;
}

/** A name that is typed: taken by Enter or on leaving, left as it was by Escape or when empty. */
export function NameField({ label, name, maxLength, small = false, onNamed }: Props) {
  const readOnly = useBench((s) => s.readOnly);
  const [typed, setTyped] = useState<string | null>(null);
  const commit = () => {
    const wanted = typed?.trim();
    if (wanted && wanted !== name) onNamed(wanted);
    setTyped(null);
  };
  return (
    <TextField
      aria-label={label}
      title={label}
      width={small ? "110px" : "150px"}
      height={small ? "26px" : undefined}
      fontSize={small ? "12px" : undefined}
      maxLength={maxLength}
      readOnly={readOnly}
      value={typed ?? name}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
        if (event.key === "Escape") setTyped(null);
      }}
    />
  );
}

import type { SettingValue } from "../../api/client";
import { Switch } from "../../ui/Choice";
import { NumberControl } from "../../ui/Number";

/** A place in the tones that every clip has at another number. */
export interface Percentile {
  percentile: number;
}

export const isPercentile = (value: SettingValue | undefined): value is Percentile =>
  typeof value === "object" && !Array.isArray(value) && "percentile" in value;

interface Props {
  label: string;
  help: string;
  percentile: number;
  /** The number that takes its place where it is switched off. */
  initial: number;
  onMove: (value: Percentile | number, done: boolean) => void;
}

/** A percentile of the clip's tones, and the way back to a number. */
export function PercentileControl({ label, help, percentile, initial, onMove }: Props) {
  return (
    <>
      <NumberControl
        label={label}
        help={help}
        value={percentile}
        initial={percentile}
        softMinimum={0}
        softMaximum={100}
        minimum={0}
        maximum={100}
        digits={1}
        step={1}
        unit="%ile"
        onMove={(given, done) => onMove({ percentile: given }, done)}
      />
      <Switch
        label="By the clip's tones"
        help="So many per cent of the clip's pixels are darker; off, it is one number for all clips"
        on={true}
        onSwitch={() => onMove(initial, true)}
      />
    </>
  );
}

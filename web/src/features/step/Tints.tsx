import type { Setting, Step } from "../../api/client";
import { changeValues } from "../../store/edits";
import { ColourField } from "../../ui/ColourField";

export const CHANNELS = ["red", "green", "blue"] as const;

const LABELS = ["Red", "Green", "Blue"];

const PLACES = [1, 3, 5];
const code = (colour: string, place: number) => Number.parseInt(colour.slice(place, place + 2), 16);

/** Three colours that add up to white, one of them changed: the others share what it leaves. */
export function rebalanceTints(tints: string[], changed: number, colour: string): string[] {
  const others = [0, 1, 2].filter((i) => i !== changed);
  const made = ["", "", ""];
  for (const place of PLACES) {
    const [first, second] = others.map((i) => code(tints[i] ?? "#000000", place)) as [
      number,
      number,
    ];
    const left = 255 - code(colour, place);
    const share =
      first + second ? Math.round((left * first) / (first + second)) : Math.floor(left / 2);
    const codes = [0, 0, 0];
    codes[changed] = 255 - left;
    codes[others[0] ?? 0] = share;
    codes[others[1] ?? 0] = left - share;
    for (const i of [0, 1, 2]) made[i] += (codes[i] ?? 0).toString(16).padStart(2, "0");
  }
  return made.map((hex) => `#${hex}`);
}

/** What one of the three channels is drawn in. */
export function Tint({
  step,
  setting,
  channel,
}: {
  step: Step;
  setting: Setting;
  channel: number;
}) {
  const tints = step.settings[setting.name] as string[];
  return (
    <ColourField
      label={`${LABELS[channel]} in`}
      help={`${setting.help} The other two share what this one leaves of white.`}
      value={tints[channel] ?? "#000000"}
      onMove={(colour, done) =>
        changeValues(step.id, [[setting.name, rebalanceTints(tints, channel, colour)]], done)
      }
    />
  );
}

export function Tints({ step, setting }: { step: Step; setting: Setting }) {
  return CHANNELS.map((name, channel) => (
    <Tint key={name} step={step} setting={setting} channel={channel} />
  ));
}

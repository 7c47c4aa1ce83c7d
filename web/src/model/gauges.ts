import type { Step } from "../api/client";

interface Belonging {
  word: string;
  title: string;
  treatment: string;
  settings: Step["settings"];
}

const softness = (gauge: number): Belonging => ({
  word: "Softness",
  title: `Detail as ${gauge} mm film and its lens resolve it`,
  treatment: "soften",
  settings: { shape: "film", gauge },
});

const sway = (across: number, down: number): Belonging => ({
  word: "Sway",
  title: "The frame does not stand twice alike in the gate",
  treatment: "weave",
  settings: { across, down, jump: 0.4 },
});

const flutter = (strength: number): Belonging => ({
  word: "Flutter",
  title: "The lamp and the shutter are not even",
  treatment: "flicker",
  settings: { strength, pace: 6 },
});

const frame: Belonging = {
  word: "4:3 frame",
  title: "The shape of its frame",
  treatment: "crop",
  settings: { ratio: 4 / 3 },
};

/** What belongs to a film gauge besides its grain, by its width in mm: common practice, no source,
 * but for the softness. */
const BELONGINGS: Record<string, Belonging[]> = {
  8: [softness(8), sway(3, 4.5), flutter(0.06), frame],
  16: [softness(16), sway(1.2, 1.8), flutter(0.03), frame],
  35: [softness(35), sway(0.5, 0.8)],
};

/** What belongs to a gauge and is not among the steps yet. */
export function belongingsOf(gauge: unknown, steps: Step[]): Belonging[] {
  const there = ({ treatment, settings }: Belonging) =>
    steps.some(
      (step) =>
        step.treatment === treatment &&
        (treatment !== "soften" || step.settings.shape === settings.shape),
    );
  return (BELONGINGS[String(gauge)] ?? []).filter((belonging) => !there(belonging));
}

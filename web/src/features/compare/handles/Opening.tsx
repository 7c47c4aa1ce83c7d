import { Centre } from "./Ellipse";
import { Grip } from "./Grip";
import { type Point, perCent, placeOf, type Shape } from "./shapes";

const PIECES = 96;
const LARGEST = 1.5;
const SOFTEST = 1.5;
/** How near the middle the softness's grip comes, in half axes. */
const LEAST = 0.2;
/** The way to the softness's grip: between the two axes. */
const ASLANT = Math.PI / 4;

/** How far out an opening's edge lies that way, in its half axes (see the treatment's docs). */
export function edgeAt(angle: number, roundness: number, corners: number): number {
  const [x, y] = [Math.abs(Math.cos(angle)), Math.abs(Math.sin(angle))];
  const shape = Math.max(x, y) + roundness * (1 - Math.max(x, y));
  const cut = ((1 + roundness * (Math.SQRT2 - 1)) / 2) * (x + y);
  return 1 / (shape + corners * (cut - shape));
}

/** An opening: outside its line the picture changes, half of its soft edge on either side. */
export function Opening({ step, box, set }: Shape) {
  const centre = placeOf(step.settings.centre);
  const size = placeOf(step.settings.size);
  const { roundness, corners, softness } = step.settings as Record<string, number>;
  const mean = Math.max(size[0] + size[1], 0.02); // the half axes' mean, in halves of the frame
  const soft = Number(softness) / mean / 2;
  const x = box.left + centre[0] * box.width;
  const y = box.top + centre[1] * box.height;
  const at = (angle: number, times: number): Point => {
    const far = times * edgeAt(angle, Number(roundness), Number(corners));
    return [
      x + Math.cos(angle) * far * size[0] * box.width,
      y + Math.sin(angle) * far * size[1] * box.height,
    ];
  };
  const outline = (times: number) =>
    Array.from({ length: PIECES }, (_, n) => at((2 * Math.PI * n) / PIECES, times))
      .map((place) => place.map((v) => v.toFixed(1)).join(","))
      .join(" ");
  const outer = at(ASLANT, 1 + soft);
  const inFrame =
    outer[0] > box.left &&
    outer[0] < box.left + box.width &&
    outer[1] > box.top &&
    outer[1] < box.top + box.height;
  const [softer, grip] = inFrame ? [1, outer] : [-1, at(ASLANT, Math.max(1 - soft, LEAST))];
  const axis = (n: 0 | 1, by: number, from: Point) =>
    from.map((v, i) => (i === n ? Math.min(Math.max(v + by, 0.01), LARGEST) : v)) as Point;
  const push = edgeAt(0, Number(roundness), Number(corners));
  return (
    <>
      <g fill="none">
        <polygon points={outline(1)} stroke="#000000" strokeOpacity="0.55" strokeWidth="3.5" />
        <polygon points={outline(1)} stroke="#ffffff" strokeWidth="1.5" />
        {[1 - soft, 1 + soft]
          .filter((times) => times > 0)
          .map((times) => (
            <polygon
              key={times}
              points={outline(times)}
              stroke="#ffffff"
              strokeOpacity="0.7"
              strokeDasharray="2 5"
            />
          ))}
      </g>
      <Centre step={step} box={box} set={set} />
      <Grip
        name="size"
        label={`Size across: ${perCent(size[0])}`}
        x={x + size[0] * box.width * push}
        y={y}
        unit={box}
        value={size}
        onMove={(dx, _dy, done, from) => set(done, ["size", axis(0, dx / box.width / push, from)])}
      />
      <Grip
        name="size"
        label={`Size down: ${perCent(size[1])}`}
        x={x}
        y={y + size[1] * box.height * push}
        unit={box}
        value={size}
        onMove={(_dx, dy, done, from) => set(done, ["size", axis(1, dy / box.height / push, from)])}
      />
      <Grip
        name="softness"
        label={`Softness: ${perCent(Number(softness))}`}
        x={grip[0]}
        y={grip[1]}
        unit={box}
        value={Number(softness)}
        onMove={(dx, dy, done, from) => {
          const edge = at(ASLANT, 1);
          const way: Point = [edge[0] - x, edge[1] - y];
          const long = Math.max(Math.hypot(...way), 1);
          const out = (dx * way[0] + dy * way[1]) / long ** 2;
          const moved = from + softer * 2 * mean * out;
          set(done, ["softness", Math.min(Math.max(moved, 0), SOFTEST)]);
        }}
      />
    </>
  );
}

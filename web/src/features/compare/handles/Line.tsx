import type { PlacedLobe } from "../../../api/client";
import { footOf, INWARD, type RimPlace, rimPlaceAt } from "../../../model/rim";
import { Grip } from "./Grip";
import { type Box, type Point, perCent, type Shape } from "./shapes";

const LEAST = 0.05;
const MOST = 1.2;

/** Lines from the frame's rim inwards: of a leak, or of each lobe that is placed. */
export function Line({ step, box, set }: Shape) {
  if (step.settings.lobes === "placed") {
    const lobes = step.settings.placed as PlacedLobe[];
    const change = (i: number, given: Partial<PlacedLobe>, done: boolean) =>
      set(done, ["placed", lobes.map((lobe, n) => (n === i ? { ...lobe, ...given } : lobe))]);
    return lobes.map((lobe, i) => (
      <RimLine
        // biome-ignore lint/suspicious/noArrayIndexKey: lobes are told apart by their order
        key={i}
        box={box}
        names={["placed", "placed"]}
        words={[`Lobe ${i + 1} comes in`, `Reach of lobe ${i + 1}`]}
        place={{ edge: lobe.from_edge, position: lobe.position }}
        reach={lobe.reach}
        onPlace={({ edge, position }, done) =>
          change(i, { from_edge: edge as PlacedLobe["from_edge"], position }, done)
        }
        onReach={(reach, done) => change(i, { reach }, done)}
        onDelete={() => set(true, ["placed", lobes.toSpliced(i, 1)])}
      />
    ));
  }
  return (
    <RimLine
      box={box}
      names={["position", "reach"]}
      words={["Light comes in", "Length"]}
      place={{
        edge: String(step.settings.from_edge),
        position: Number(step.settings.position),
      }}
      reach={Number(step.settings.reach)}
      onPlace={({ edge, position }, done) =>
        set(
          done,
          ...(edge === step.settings.from_edge ? [] : [["from_edge", edge] as [string, string]]),
          ["position", position],
        )
      }
      onReach={(reach, done) => set(done, ["reach", reach])}
    />
  );
}

interface RimLineProps {
  box: Box;
  /** What the keys of its place and of its reach are called. */
  names: [string, string];
  /** What they are called themselves. */
  words: [string, string];
  place: RimPlace;
  reach: number;
  onPlace: (place: RimPlace, done: boolean) => void;
  onReach: (reach: number, done: boolean) => void;
  onDelete?: () => void;
}

/** A line from the frame's rim inwards: its foot is moved all around the rim, its end in and out. */
function RimLine({ box, names, words, place, reach, onPlace, onReach, onDelete }: RimLineProps) {
  const way = INWARD[place.edge] as Point;
  const foot = footOf(place, box);
  const end: Point = [foot[0] + way[0] * reach * box.height, foot[1] + way[1] * reach * box.height];
  const line = { x1: foot[0], y1: foot[1], x2: end[0], y2: end[1] };
  return (
    <>
      <g fill="none">
        <line {...line} stroke="#000" strokeOpacity="0.55" strokeWidth="3.5" />
        <line {...line} stroke="#ffffff" strokeWidth="1.5" />
      </g>
      <Grip
        name={names[0]}
        label={`${words[0]}: ${place.edge}, ${perCent(place.position)}${onDelete ? "; Delete takes it out" : ""}`}
        x={foot[0]}
        y={foot[1]}
        unit={box}
        value={foot}
        onDelete={onDelete}
        onMove={(dx, dy, done, [x, y]) => onPlace(rimPlaceAt([x + dx, y + dy], box), done)}
      />
      <Grip
        name={names[1]}
        label={`${words[1]}: ${perCent(reach)}`}
        x={end[0]}
        y={end[1]}
        unit={{ width: box.height, height: box.height }}
        value={[reach, 0]}
        onDelete={onDelete}
        onMove={(dx, dy, done, from) => {
          const moved = from[0] + (dx * way[0] + dy * way[1]) / box.height;
          onReach(Math.min(Math.max(moved, LEAST), MOST), done);
        }}
      />
    </>
  );
}

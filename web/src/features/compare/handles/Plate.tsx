import { layPlate, placeOfPlate, plateOf } from "../../../model/platePlace";
import { usePlates } from "../../../store/plates";
import { Grip } from "./Grip";
import { type Point, placeOf, placeWords, type Shape } from "./shapes";
import { useDrag } from "./useDrag";

const LEAST = 0.1;
const MOST = 4;
const BEYOND = 30;
/** Of the frame's shorter side: how far from the middle its grips lie at the most. */
const NEAR = 0.42;

/** What is laid over the picture, as an outline: moved by its inside, sized, turned. */
export function Plate({ step, box, set }: Shape) {
  const own = usePlates()?.find((p) => p.file === step.settings.file);
  const place = placeOf(step.settings.place);
  const plate = plateOf(step);
  const laid = layPlate(plate, own ?? { width: 1, height: 1 }, box);
  const move = (dx: number, dy: number, done: boolean, from: Point) => {
    const before = layPlate({ ...plate, place: from }, own ?? laid, box).middle;
    set(done, ["place", placeOfPlate([before[0] + dx, before[1] + dy], plate, laid, box)]);
  };
  const drag = useDrag(place, move);
  if (!own) return null;
  const { middle, width, height } = laid;
  const angle = (plate.turn * Math.PI) / 180;
  const turnPoint = (x: number, y: number): Point => [
    middle[0] + x * Math.cos(angle) - y * Math.sin(angle),
    middle[1] + x * Math.sin(angle) + y * Math.cos(angle),
  ];
  const room = NEAR * Math.min(box.width, box.height);
  const reachOf = (half: number) => Math.min(half, room); // grips stay in the frame
  const inward = reachOf(Math.hypot(width, height) / 2) / (Math.hypot(width, height) / 2);
  const corner = turnPoint((inward * width) / 2, (inward * height) / 2);
  const far = Math.hypot(corner[0] - middle[0], corner[1] - middle[1]);
  const reach = reachOf(height / 2 + BEYOND);
  const top = turnPoint(0, -reach);
  return (
    <>
      <g transform={`translate(${middle[0]} ${middle[1]}) rotate(${plate.turn})`}>
        <rect
          x={-width / 2}
          y={-height / 2}
          width={width}
          height={height}
          fill="transparent"
          stroke="#ffffff"
          strokeDasharray="6 5"
          pointerEvents="all"
          cursor="move"
          style={{ touchAction: "none" }}
          data-plate
          {...drag}
        />
        <line y2={-reach} stroke="#ffffff" strokeDasharray="2 5" />
      </g>
      <Grip
        name="place"
        label={`The plate's middle: ${placeWords([
          (middle[0] - box.left) / box.width,
          (middle[1] - box.top) / box.height,
        ])}`}
        x={middle[0]}
        y={middle[1]}
        unit={box}
        value={place}
        onMove={move}
      />
      <Grip
        name="scale"
        label={`Scale: ${plate.scale.toFixed(2)}`}
        x={corner[0]}
        y={corner[1]}
        unit={box}
        value={plate.scale}
        onMove={(dx, dy, done, from) => {
          const out = (dx * (corner[0] - middle[0]) + dy * (corner[1] - middle[1])) / far;
          const first = reachOf((Math.hypot(width, height) / 2) * (from / plate.scale));
          const scale = from * Math.max(1 + out / first, 0.01);
          set(done, ["scale", Math.min(Math.max(scale, LEAST), MOST)]);
        }}
      />
      <Grip
        name="turn"
        label={`Turn: ${Math.round(plate.turn)}°`}
        x={top[0]}
        y={top[1]}
        unit={{ width: 180, height: 180 }}
        value={plate.turn}
        onMove={(dx, dy, done, from) => {
          const start = (from * Math.PI) / 180;
          const [x, y] = [reach * Math.sin(start) + dx, -reach * Math.cos(start) + dy];
          const degrees = (Math.atan2(x, -y) * 180) / Math.PI;
          set(done, ["turn", Math.round(10 * degrees) / 10]);
        }}
      />
    </>
  );
}

import type { TrackPlaces } from "../../../api/client";
import type { FrameMap } from "../../../model/frameMaps";
import { mapPoint, type TrackedFrame } from "../../../model/tracks";
import { framesOf } from "../../../store/tracks";
import type { Box, Point } from "./shapes";

/** Where a place goes on its track: a dotted line, with dots where a hand put it right. */
export function TrackLine({
  track,
  middle,
  box,
  map,
}: {
  track: TrackPlaces;
  middle: Point;
  box: Box;
  map: FrameMap | null;
}) {
  const frames = framesOf(track);
  const at = ({ matrix }: TrackedFrame) => {
    const shot = mapPoint(matrix, middle);
    const [x, y] = map ? map.to(shot) : shot;
    return `${(box.left + x * box.width).toFixed(1)} ${(box.top + y * box.height).toFixed(1)}`;
  };
  const d = frames
    .map((each, i) => `${frames[i - 1]?.frame === each.frame - 1 ? "L" : "M"} ${at(each)}`)
    .join(" ");
  return (
    <g data-track-line>
      <path d={d} fill="none" stroke="#000000" strokeOpacity="0.5" strokeWidth="3" />
      <path d={d} fill="none" stroke="#ffffff" strokeWidth="1.5" strokeDasharray="2 4" />
      {frames
        .filter((each) => each.by_hand)
        .map((each) => (
          <circle
            key={each.frame}
            r="3.5"
            fill="#ffffff"
            stroke="#262524"
            transform={`translate(${at(each)})`}
          />
        ))}
    </g>
  );
}

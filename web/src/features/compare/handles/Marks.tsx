import { chakra } from "@chakra-ui/react";
import type { KeyboardEvent } from "react";
import { useMarks } from "../../../store/marks";
import type { Shape } from "./shapes";

const Group = chakra("g");

/** What can be taken out of the picture one by one: a click on one does. */
export function Marks({ step, box, set }: Shape) {
  const marks = useMarks(step);
  const out = step.settings.removed as string[];
  return marks.map(({ name, points, radius }) => {
    const take = () => set(true, ["removed", [...out, name]]);
    const seen = points
      .map(([x, y]) => `${box.left + x * box.width},${box.top + y * box.height}`)
      .join(" ");
    const wide = 2 * radius * box.height;
    return (
      <Group
        key={name}
        role="button"
        tabIndex={0}
        aria-label={`Remove ${name}`}
        pointerEvents="all"
        cursor="pointer"
        fill="none"
        strokeLinecap="round"
        strokeLinejoin="round"
        css={{
          "& .ring": { opacity: 0.4 },
          "&:hover .ring, &:focus-visible .ring": { opacity: 1 },
          "&:focus-visible": { outline: "none" },
        }}
        onClick={take}
        onKeyDown={(event: KeyboardEvent) => {
          if (event.key !== "Enter" && event.key !== " ") return;
          event.preventDefault();
          event.stopPropagation();
          take();
        }}
      >
        <title>{`Remove ${name}`}</title>
        <polyline points={thick(seen)} stroke="transparent" strokeWidth={Math.max(wide, 16)} />
        {points.length > 2 ? (
          <polyline className="ring" points={seen} stroke="#ffffff" strokeDasharray="1 5" />
        ) : (
          <circle
            className="ring"
            cx={box.left + (points[0]?.[0] ?? 0) * box.width}
            cy={box.top + (points[0]?.[1] ?? 0) * box.height}
            r={Math.max(wide / 2 + 3, 5)}
            stroke="#ffffff"
          />
        )}
      </Group>
    );
  });
}

/** A line of one point, as one that a stroke is drawn along. */
const thick = (points: string) => (points.includes(" ") ? points : `${points} ${points}`);

import { Flex } from "@chakra-ui/react";
import { useRef } from "react";
import { sideWidth } from "../../model/viewport";
import { setState, useBench } from "../../store/bench";
import { Divider } from "../../ui/Divider";
import { useExtent } from "../../ui/useExtent";
import { COLUMN, MARGIN } from "../compare/Compare";
import { Wall } from "../compare/Wall";
import { SidePanel } from "../output/Renders";
import { AddSheet } from "../path/AddSheet";
import { PathRow } from "../path/PathRow";
import { LEAST_PATH, mostPath, usePathHeight } from "../path/pathHeight";
import { Starters } from "../path/Starters";
import { TimeRow } from "../time/TimeRow";
import { ShortcutsSheet, useShortcuts } from "./shortcuts";

/** Readings give way to the picture down to so many pixels; other panels need all of theirs. */
const MIN_READINGS = 190;
const MIN_PANEL = 288;

/** The Bench: work on a look. */
export function Bench() {
  const starters = useBench((s) => s.starters);
  const shortcutsShown = useBench((s) => s.shortcutsShown);
  const alone = useBench((s) => s.alone);
  const adding = useBench((s) => s.adding);
  useShortcuts(!adding);
  return (
    <>
      <Flex direction="column" flex="1" minH="0" position="relative">
        <WallRow />
        {!alone && <PathDivider />}
        {!alone && (starters ? <Starters /> : <PathRow />)}
        {adding && <AddSheet />}
      </Flex>
      {!alone && <TimeRow />}
      {shortcutsShown && <ShortcutsSheet />}
    </>
  );
}

/** The picture, and what stands beside it as far as the picture leaves room. */
function WallRow() {
  const row = useRef<HTMLDivElement>(null);
  const extent = useExtent(row);
  const put = useBench((s) => s.sideWidth);
  const alone = useBench((s) => s.alone);
  const clip = useBench((s) => s.clip);
  const panel = useBench((s) => s.panel);
  const two = useBench((s) => s.compare === "beside");
  const minimum = panel === "readings" ? MIN_READINGS : MIN_PANEL;
  const free = {
    width: extent.width - COLUMN - 2 * MARGIN,
    height: extent.height - 2 * MARGIN,
  };
  const { width: wide, height } = clip ?? { width: 16, height: 9 };
  const width = sideWidth(free, { width: two ? 2 * wide : wide, height }, put, minimum);
  return (
    <Flex ref={row} flex="1" minH="0" position="relative">
      <Wall />
      {!alone && (
        <>
          <Divider
            label="Width beside the picture"
            way="across"
            size={width}
            minimum={minimum}
            maximum={Math.max(minimum, free.width - 480)}
            grows={-1}
            onSize={(sideWidth) => setState({ sideWidth })}
          />
          <SidePanel width={width} />
        </>
      )}
    </Flex>
  );
}

/** The bar over the path, where there is a step open whose room it sets. */
function PathDivider() {
  const open = useBench((s) => s.open !== null && !s.starters);
  const height = usePathHeight();
  if (!open) return null;
  return (
    <Divider
      label="Height of the path"
      way="down"
      size={height}
      minimum={LEAST_PATH}
      maximum={mostPath()}
      grows={-1}
      onSize={(pathHeight) => setState({ pathHeight })}
    />
  );
}

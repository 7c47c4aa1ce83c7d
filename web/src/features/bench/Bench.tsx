import { Flex } from "@chakra-ui/react";
import { useBench } from "../../store/bench";
import { Wall } from "../compare/Wall";
import { SidePanel } from "../output/Renders";
import { PathRow } from "../path/PathRow";
import { Starters } from "../path/Starters";
import { TimeRow } from "../time/TimeRow";
import { ShortcutsSheet, useShortcuts } from "./shortcuts";

/** The Bench: work on a look. */
export function Bench() {
  const starters = useBench((s) => s.starters);
  const shortcutsShown = useBench((s) => s.shortcutsShown);
  useShortcuts();
  return (
    <>
      <Flex flex="1" minH="0" position="relative">
        <Wall />
        <SidePanel />
        {shortcutsShown && <ShortcutsSheet />}
      </Flex>
      {starters ? <Starters /> : <PathRow />}
      <TimeRow />
    </>
  );
}

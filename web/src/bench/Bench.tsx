import { Flex } from "@chakra-ui/react";
import { useBench } from "../state/bench";
import { TimeRow } from "../time/TimeRow";
import { KeysSheet, useKeys } from "./keys";
import { PathRow } from "./PathRow";
import { SidePanel } from "./Renders";
import { Starters } from "./Starters";
import { Wall } from "./Wall";

/** The Bench: work on a look. */
export function Bench() {
  const starters = useBench((s) => s.starters);
  const keysShown = useBench((s) => s.keysShown);
  useKeys();
  return (
    <>
      <Flex flex="1" minH="0" position="relative">
        <Wall />
        <SidePanel />
        {keysShown && <KeysSheet />}
      </Flex>
      {starters ? <Starters /> : <PathRow />}
      <TimeRow />
    </>
  );
}

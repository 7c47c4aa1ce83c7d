import { Flex } from "@chakra-ui/react";
import { useBench } from "../../store/bench";
import { TimeRow } from "../time/TimeRow";
import { KeysSheet, useKeys } from "./shortcuts";
import { PathRow } from "../path/PathRow";
import { SidePanel } from "../output/Renders";
import { Starters } from "../path/Starters";
import { Wall } from "../compare/Wall";

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

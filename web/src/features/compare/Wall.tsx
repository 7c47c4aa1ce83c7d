import { Box, Flex } from "@chakra-ui/react";
import { setState, useBench } from "../../store/bench";
import { Button } from "../../ui/Button";
import { Notices } from "../bench/Notices";
import { Alone } from "./Alone";
import { CompareColumn } from "./Compare";
import { Picture } from "./Picture";

/** The picture on its wall of neutral grey, and the ways to compare it. */
export function Wall() {
  const clip = useBench((s) => s.clip);
  const alone = useBench((s) => s.alone);
  return (
    <Flex className="on-wall" flex="1" minW="0" bg="wall" color="wallInk">
      {!alone && <CompareColumn />}
      <Flex flex="1" minW="0" direction="column" position="relative">
        <Box position="absolute" top="10px" left="8px" right="8px" zIndex="5">
          <Notices where="clips" />
          <Notices where="look" />
          <Notices where="picture" />
        </Box>
        {clip ? <Picture /> : <NoClip />}
        <PickBar />
        {alone && <Alone />}
      </Flex>
    </Flex>
  );
}

function NoClip() {
  return (
    <Flex flex="1" align="center" justify="center" direction="column" gap="6px">
      <Box fontFamily="felt" fontStyle="italic" fontSize="22px">
        Drop a clip here
      </Box>
      <Box color="wallMute">or choose “Bring in a clip…” above.</Box>
    </Flex>
  );
}

/** Says what is to be picked from the picture, until it is. */
function PickBar() {
  const picking = useBench((s) => s.picking);
  if (!picking) return null;
  return (
    <Flex
      position="absolute"
      bottom="26px"
      left="50%"
      transform="translateX(-50%)"
      zIndex="4"
      bg="paper"
      color="ink"
      borderRadius="6px"
      px="12px"
      py="6px"
      gap="10px"
      align="center"
      role="status"
    >
      {picking.prompt}
      <Button small type="button" onClick={() => setState({ picking: null })}>
        Cancel
      </Button>
    </Flex>
  );
}

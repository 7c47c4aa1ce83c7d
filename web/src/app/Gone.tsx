import { Flex } from "@chakra-ui/react";
import { useBench } from "../store/bench";

/** Says that the server is gone, for as long as it is. */
export function Gone() {
  const gone = useBench((s) => s.gone);
  if (!gone) return null;
  return (
    <Flex
      role="alert"
      justify="center"
      bg="ember"
      color="emberInk"
      px="16px"
      py="5px"
      fontWeight="700"
    >
      The server does not answer. Start it again; the page goes on by itself.
    </Flex>
  );
}

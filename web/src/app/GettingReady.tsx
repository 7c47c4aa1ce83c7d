import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { api, unwrap } from "../api/client";

const EVERY_MS = 1000;

/** How far the program gets ready for this machine: the first time it runs there, and after updates. */
export function GettingReady() {
  const { data } = useQuery({
    queryKey: ["readiness"],
    queryFn: () => unwrap(api.GET("/api/v1/readiness")),
    refetchInterval: ({ state }) =>
      state.data && state.data.done >= state.data.of ? false : EVERY_MS,
  });
  if (!data || data.done >= data.of) return null;
  return (
    <Flex
      role="status"
      align="center"
      justify="center"
      gap="12px"
      bg="paper"
      borderBottomWidth="1px"
      borderColor="line"
      px="16px"
      py="4px"
    >
      <Box fontWeight="700">
        Getting ready, {data.done} of {data.of}
      </Box>
      <progress value={data.done} max={data.of} aria-label="Getting ready" />
      <Box color="mute">
        now {data.now}. The first time only; all can be used meanwhile, some pictures take longer.
      </Box>
    </Flex>
  );
}

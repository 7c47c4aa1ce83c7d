import { Box } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { api, unwrap } from "../../api/client";
import { fileSize } from "../../model/words";

const EVERY_MS = 5000;

/** How much memory pictures are kept in, and what the server takes in all. */
export function MemoryLine() {
  const { data } = useQuery({
    queryKey: ["memory"],
    queryFn: () => unwrap(api.GET("/api/v1/memory")),
    refetchInterval: EVERY_MS,
  });
  if (!data) return null;
  return (
    <Box
      color="wallMute"
      fontSize="12px"
      title="Pictures, played frames and plates are kept in memory; the oldest go first, sooner where work takes much beside them. yearning serve --cache sets how much"
    >
      memory: {fileSize(data.kept)} of {fileSize(data.budget)} kept;
      <br />
      in all {fileSize(data.process)} of {fileSize(data.limit)}
    </Box>
  );
}

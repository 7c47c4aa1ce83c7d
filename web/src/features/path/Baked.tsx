import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { api, unwrap } from "../../api/client";
import { formatFixed } from "../../model/words";
import { useBench } from "../../store/bench";
import { inWords } from "../../store/look";
import { Button } from "../../ui/Button";

const SIDES = [17, 33, 65];

/** The look as a .cube file, with how near that comes; or why it can't be one. */
export function Baked() {
  const lookId = useBench((s) => s.lookId);
  const revision = useBench((s) => s.revision);
  const clip = useBench((s) => s.clip?.id);
  const { data, error } = useQuery({
    queryKey: ["baked", lookId, revision, clip],
    queryFn: () =>
      unwrap(
        api.GET("/api/v1/looks/{look_id}/table/error", {
          params: { path: { look_id: lookId ?? 0 }, query: { side: 33, clip } },
        }),
      ),
    retry: false,
    enabled: lookId !== null,
  });
  const why = data?.reason ?? error;
  const reason = why ? inWords(why) : undefined;
  return (
    <Box mt="10px" pt="8px" borderTopWidth="1px" borderColor="line">
      <Flex gap="6px" align="center">
        <Box flex="1">Bake as .cube</Box>
        {SIDES.map((side) => (
          <Button
            key={side}
            small
            asChild
            opacity={reason ? 0.45 : 1}
            pointerEvents={reason ? "none" : undefined}
          >
            <a
              href={`/api/v1/looks/${lookId}/table?side=${side}${clip ? `&clip=${clip}` : ""}`}
              download
              aria-disabled={reason !== undefined}
            >
              {side}³
            </a>
          </Button>
        ))}
      </Flex>
      <Box color="mute" fontSize="12px" mt="3px" minHeight="36px" role="status">
        {reason ??
          (data
            ? `With 33³ points no channel is off by more than ${formatFixed(100 * (data.error ?? 0), 2)} %.`
            : "Comparing it with the look…")}
      </Box>
    </Box>
  );
}

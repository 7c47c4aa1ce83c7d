import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { listLooks } from "../../api/lists";
import { findStep } from "../../model/lookTree";
import { MOST } from "../../model/proofs";
import { stepName } from "../../model/stepNames";
import { useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import { middleOf, openSheet, proofControl } from "../../store/proofs";
import { Button } from "../../ui/Button";
import { KeptList } from "./KeptSheets";
import { MatchChoice } from "./MatchChoice";

/** What can be tried, before anything is. */
export function Empty() {
  const clip = useBench((s) => s.clip);
  const step = useBench((s) => findStep(s.look?.steps ?? [], s.open) ?? s.look?.steps[0]);
  const snapshots = useBench((s) => s.snapshots.length);
  const clips = useClips().data ?? [];
  const looks = useQuery({ queryKey: ["looks"], queryFn: listLooks }).data ?? [];
  if (!clip)
    return (
      <Box p="24px">Drop a clip anywhere on the page; its look is tried in many ways here.</Box>
    );
  return (
    <Box flex="1" minH="0" overflowY="auto">
      <Flex direction="column" gap="10px" align="flex-start" p="24px" maxW="860px">
        <Box>
          A proof sheet shows one thing changed many ways, side by side; a click takes one. On the
          Bench, put the focus on a control and press S.
        </Box>
        {step && (
          <Flex gap="8px" wrap="wrap">
            <Button type="button" onClick={() => proofControl(step.id, "mix.blend")}>
              All blend modes of {stepName(step)}
            </Button>
            <Button type="button" onClick={() => proofControl(step.id, "mix.amount")}>
              Amounts of {stepName(step)}
            </Button>
          </Flex>
        )}
        <Flex gap="8px" wrap="wrap">
          {looks.length > 1 && (
            <Button
              type="button"
              onClick={() =>
                openSheet({ kind: "looks", ids: looks.slice(0, MOST).map((l) => l.id) })
              }
            >
              All looks
            </Button>
          )}
          {snapshots > 0 && (
            <Button type="button" onClick={() => openSheet({ kind: "snapshots" })}>
              Kept states of the look
            </Button>
          )}
          {clips.length > 1 && (
            <Button
              type="button"
              onClick={() => openSheet({ kind: "clips" }, clips.slice(0, MOST).map(middleOf))}
            >
              All clips as they look now
            </Button>
          )}
        </Flex>
        <KeptList />
        <MatchChoice clip={clip} />
      </Flex>
    </Box>
  );
}

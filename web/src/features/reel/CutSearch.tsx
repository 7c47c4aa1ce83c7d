import { Box, chakra, Flex } from "@chakra-ui/react";
import { useEffect } from "react";
import type { Boundary, LookState, Reel } from "../../api/client";
import { type Pictured, type PlacedItem, placeItems, reelPicture } from "../../model/reel";
import { countWords } from "../../model/words";
import {
  cutAtFound,
  isTaken,
  leaveCutSearch,
  stopCutSearch,
  useCutSearch,
} from "../../store/cutSearch";
import { seekReel, useReel } from "../../store/reel";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { ProgressLine } from "../../ui/ProgressLine";
import { ImageInTurn } from "./ImageInTurn";

const Place = chakra("button");

/** Lines of the pictures on both sides of a cut. */
const LINES = 120;

/** The cuts found within a shot: each as the frames before and after it, taken or left by a click. */
export function CutSearch({ reel, looks }: { reel: Reel; looks: LookState[] }) {
  const { shot, status, threshold, byHand } = useCutSearch();
  const kept = useReel((s) => s.kept);
  const within = placeItems(reel.items).find(({ item }) => item.id === shot?.id);
  const gone = shot !== null && !sameFrames(within, shot);
  useEffect(() => {
    if (gone) leaveCutSearch();
  }, [gone]);
  useEffect(() => leaveCutSearch, []);
  if (!shot || !status || !kept || !within) return null;
  const found = status.boundaries;
  const taken = found.filter((each) => isTaken(each, threshold, byHand)).length;
  const pictured = { kept, plain: true, looks: looks.map((look) => look.revision).join(".") };
  return (
    <Box as="section" aria-label="Cuts found" bg="paper" px="12px" pt="8px" flex="none">
      {status.running ? (
        <ProgressLine
          {...status}
          says={`Looking for cuts in ${shot.name}: frame`}
          label="Looking for cuts"
          stop="What is found till then is shown"
          onStop={() => void stopCutSearch()}
        />
      ) : (
        <>
          <Flex align="center" gap="10px" mb="6px">
            <Box fontWeight="700">
              {found.length
                ? `${countWords(found.length, "possible cut")} in ${shot.name}`
                : `No cut in ${shot.name}`}
              {status.stopped && `, of ${status.done} frames`}
            </Box>
            {found.length > 0 && (
              <Flex as="label" align="center" gap="6px" color="mute">
                taken from a change of
                <NumberField
                  label="Change that is taken for a cut, in per cent"
                  value={Math.round(100 * threshold)}
                  minimum={15}
                  maximum={100}
                  onEnter={(percent) => useCutSearch.setState({ threshold: percent / 100 })}
                />
                %
              </Flex>
            )}
            <Box flex="1" />
            {found.length > 0 && (
              <Button small type="button" tone="main" disabled={!taken} onClick={cutAtFound}>
                Cut at {countWords(taken, "place")}
              </Button>
            )}
            <Button small type="button" onClick={leaveCutSearch}>
              {found.length ? "Leave it whole" : "Close"}
            </Button>
          </Flex>
          <Flex gap="10px" overflowX="auto" pb="8px" role="group" aria-label="Where it may be cut">
            {found.map((each) => (
              <BothSides
                key={each.frame}
                boundary={each}
                at={within.begins + Math.round((each.frame - shot.first) / shot.speed)}
                taken={isTaken(each, threshold, byHand)}
                pictured={pictured}
              />
            ))}
          </Flex>
        </>
      )}
    </Box>
  );
}

/** Whether a shot of the reel is still the part of the clip that was looked through. */
const sameFrames = (
  placed: PlacedItem | undefined,
  { clip, first, last }: { clip: number | null; first: number; last: number },
) =>
  placed?.item.kind === "shot" &&
  placed.item.clip === clip &&
  placed.item.first === first &&
  placed.item.last === last;

interface BothSidesProps {
  boundary: Boundary;
  /** The frame of the reel that the later shot begins at. */
  at: number;
  taken: boolean;
  pictured: Pictured;
}

/** The last frame before a cut and the first after it. */
function BothSides({ boundary: { frame, jump }, at, taken, pictured }: BothSidesProps) {
  return (
    <Place
      type="button"
      flex="none"
      textAlign="left"
      aria-pressed={taken}
      title={taken ? "Click to leave it" : "Click to cut here too"}
      onClick={() => {
        const { byHand } = useCutSearch.getState();
        useCutSearch.setState({ byHand: { ...byHand, [frame]: !taken } });
        seekReel(at);
      }}
    >
      <Flex
        gap="3px"
        padding="3px"
        borderRadius="5px"
        borderWidth="2px"
        borderColor={taken ? "ember" : "transparent"}
        opacity={taken ? 1 : 0.45}
      >
        {[at - 1, at].map((n) => (
          <Box key={n} bg="black" width="96px" aspectRatio="16 / 9" overflow="hidden">
            <ImageInTurn
              src={reelPicture(pictured, n, LINES)}
              alt=""
              width="100%"
              height="100%"
              objectFit="contain"
              draggable={false}
            />
          </Box>
        ))}
      </Flex>
      <Flex fontSize="12px" px="4px" gap="8px" color={taken ? "ink" : "mute"}>
        <Box>frame {frame}</Box>
        <Box color="mute">{Math.round(100 * jump)} %</Box>
        <Box flex="1" textAlign="right">
          {taken ? "cut" : "left"}
        </Box>
      </Flex>
    </Place>
  );
}

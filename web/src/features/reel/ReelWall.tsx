import { Box, chakra, Flex } from "@chakra-ui/react";
import { useCallback, useEffect, useRef } from "react";
import type { LookState, Reel } from "../../api/client";
import {
  besides,
  clipFrame,
  itemAt,
  type Pictured,
  type PlacedItem,
  placeItems,
  reelPicture,
} from "../../model/reel";
import { timecode } from "../../model/timecode";
import { useClips } from "../../store/clips";
import { useReelHead } from "../../store/playHead";
import { seekReel, useReel } from "../../store/reel";
import { drawReel, wantReelPicture } from "../../store/reelPlayer";
import { useExtent } from "../../ui/useExtent";
import { ImageInTurn } from "./ImageInTurn";

const Canvas = chakra("canvas");
const Beside = chakra("button");

/** Lines of the pictures beside. */
const BESIDE = 180;

/** The frame at hand, between the end of the shot before it and the beginning of the one after. */
export function ReelWall({ reel, looks }: { reel: Reel; looks: LookState[] }) {
  const all = placeItems(reel.items);
  const here = useReel((s) => itemAt(all, s.frame));
  const { before, after } = besides(all, here?.begins ?? 0);
  const playing = useReel((s) => s.playing);
  const plain = useReel((s) => s.plain);
  const canvas = useRef<HTMLCanvasElement>(null);
  const room = useRef<HTMLDivElement>(null);
  const { height } = useExtent(room);
  const draw = useCallback((picture: ImageBitmap) => {
    const node = canvas.current;
    if (!node) return;
    node.width = picture.width;
    node.height = picture.height;
    node.getContext("2d")?.drawImage(picture, 0, 0);
  }, []);
  const made = looks.map((look) => look.revision).join(".");
  const kept = useReel((s) => s.kept);
  const pictured = kept && { kept, plain, looks: made };
  useEffect(() => {
    drawReel(draw, height * devicePixelRatio, made);
    return () => drawReel(null, 0, "");
  }, [draw, height, made]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each of them is another picture
  useEffect(wantReelPicture, [plain, playing, reel]);
  useEffect(
    () =>
      useReel.subscribe((now, before) => {
        if (now.frame !== before.frame) wantReelPicture();
      }),
    [],
  );
  useReelHead((frame) => {
    canvas.current?.setAttribute("aria-label", `Frame ${frame} of the reel`);
  });
  return (
    <Flex
      className="on-wall"
      bg="wall"
      color="wallInk"
      flex="1"
      minH="0"
      px="12px"
      py="8px"
      gap="12px"
      align="stretch"
      aria-label="The shot at the play head"
      as="section"
    >
      <Neighbour of={before} words="before" pictured={pictured} />
      <Flex direction="column" flex="1" minW="0" gap="4px">
        <Flex ref={room} flex="1" minH="0" justify="center" position="relative">
          <Canvas
            ref={canvas}
            role="img"
            position="absolute"
            inset="0"
            width="100%"
            height="100%"
            objectFit="contain"
          />
          {here?.item.kind === "shot" && here.item.clip === null && (
            <Box alignSelf="center" position="relative">
              {here.item.name}: its media is missing; drop the file on the page.
            </Box>
          )}
        </Flex>
        <Caption reel={reel} here={here} looks={looks} />
      </Flex>
      <Neighbour of={after} words="after" pictured={pictured} />
    </Flex>
  );
}

/** What is seen at the play head, and where that is. */
function Caption({ reel, here, looks }: { reel: Reel; here?: PlacedItem; looks: LookState[] }) {
  const frame = useReel((s) => s.frame);
  const plain = useReel((s) => s.plain);
  const dropped = useReel((s) => s.dropped);
  const clips = useClips().data ?? [];
  const rate = reel.rate.numerator / reel.rate.denominator;
  return (
    <Flex justify="center" gap="12px" fontSize="12px" color="wallMute">
      <Box color="wallInk">{timecode(frame, rate)}</Box>
      {here && <Box truncate>{words(here, frame, clips, looks, plain)}</Box>}
      {dropped > 0 && <Box>{dropped} left out</Box>}
    </Flex>
  );
}

/** What is seen at a frame: the clip and its frame, and the look. */
function words(
  { item, begins }: PlacedItem,
  frame: number,
  clips: { id: number; name: string }[],
  looks: LookState[],
  plain: boolean,
) {
  if (item.kind === "gap") return "a gap";
  const clip = clips.find(({ id }) => id === item.clip)?.name ?? "no clip";
  const look = plain ? undefined : looks.find(({ id }) => id === item.look)?.name;
  const at = `${clip}, frame ${clipFrame(item, frame - begins)}`;
  return [item.name === clip ? "" : item.name, at, look ?? "as shot"].filter(Boolean).join(" · ");
}

interface NeighbourProps {
  of?: PlacedItem;
  words: "before" | "after";
  pictured: Pictured | null;
}

/** The shot before or after, at the frame where it meets this one; a click goes there. */
function Neighbour({ of, words, pictured }: NeighbourProps) {
  if (!of) return <Box width="17%" flex="none" />;
  const at = words === "before" ? of.ends - 1 : of.begins;
  const name = of.item.kind === "gap" ? "a gap" : of.item.name;
  return (
    <Beside
      type="button"
      width="17%"
      flex="none"
      alignSelf="center"
      textAlign="left"
      aria-label={`The shot ${words}: ${name}`}
      onClick={() => seekReel(at)}
    >
      <Box bg="black" aspectRatio="16 / 9" borderRadius="3px" overflow="hidden">
        {pictured && (
          <ImageInTurn
            key={of.item.id}
            src={reelPicture(pictured, at, BESIDE)}
            alt=""
            width="100%"
            height="100%"
            objectFit="contain"
            draggable={false}
          />
        )}
      </Box>
      <Box fontSize="12px" color="wallMute" truncate mt="3px">
        {words}: {name}
      </Box>
    </Beside>
  );
}

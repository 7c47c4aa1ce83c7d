import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { listLooks } from "../../api/lists";
import { cutFrom, placeItems } from "../../model/reel";
import { reelState, seekReel, startReel, useReel } from "../../store/reel";
import { cutHere, takeOut } from "../../store/reelEdits";
import { pauseReel, toggleReelPlay } from "../../store/reelPlayer";
import { Notices } from "../bench/Notices";
import { CutSearch } from "./CutSearch";
import { Nothing } from "./Nothing";
import { ReelBar } from "./ReelBar";
import { ReelMeasured } from "./ReelMeasured";
import { ReelTold } from "./ReelTold";
import { ReelWall } from "./ReelWall";
import { Shelf } from "./Shelf";
import { ShotStrip } from "./ShotStrip";

/** Reel: shots in their order, seen through their looks, cut and put together. */
export function Reel() {
  const reel = useReel((s) => s.reel);
  const looks = useQuery({ queryKey: ["looks"], queryFn: listLooks, refetchOnMount: "always" });
  useEffect(() => {
    void startReel();
    return pauseReel;
  }, []);
  useReelKeys();
  return (
    <Flex direction="column" flex="1" minH="0">
      <ReelBar reel={reel} looks={looks.data ?? []} />
      <Box bg="desk" px="12px">
        <Notices where="reel" />
      </Box>
      {reel && <ReelTold reel={reel} />}
      {reel?.items.length ? (
        <>
          <ReelWall reel={reel} looks={looks.data ?? []} />
          <ReelMeasured reel={reel} looks={looks.data ?? []} />
          <CutSearch reel={reel} looks={looks.data ?? []} />
          <ShotStrip reel={reel} looks={looks.data ?? []} />
        </>
      ) : (
        <Nothing reel={reel} />
      )}
      {reel && <Shelf looks={looks.data ?? []} />}
    </Flex>
  );
}

/** Go so many frames on. */
const step = (by: number) => {
  pauseReel();
  seekReel(reelState().frame + by);
};

const toCut = (way: 1 | -1) => {
  pauseReel();
  seekReel(cutFrom(placeItems(reelState().reel?.items ?? []), reelState().frame, way));
};

function useReelKeys() {
  const how = { preventDefault: true };
  useHotkeys("space", toggleReelPlay, how);
  useHotkeys("left", () => step(-1), how);
  useHotkeys("right", () => step(1), how);
  useHotkeys("shift+left", () => step(-10), how);
  useHotkeys("shift+right", () => step(10), how);
  useHotkeys("home", () => step(Number.NEGATIVE_INFINITY), how);
  useHotkeys("end", () => step(Number.POSITIVE_INFINITY), how);
  useHotkeys("up", () => toCut(-1), how);
  useHotkeys("down", () => toCut(1), how);
  useHotkeys("c", cutHere);
  useHotkeys("delete, backspace", takeOut);
  useHotkeys("b", ({ type }) => useReel.setState({ plain: type === "keydown" }), {
    keydown: true,
    keyup: true,
  });
}

import { Box, Flex } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useBusy } from "../api/busy";
import { api, got } from "../api/client";
import { Bench } from "../features/bench/Bench";
import { Output } from "../features/output/Output";
import { bench, notice, put, standing } from "../store/bench";
import { chooseClip } from "../store/clips";
import { walk } from "../store/edits";
import { bringIn, useArriving } from "../store/importFiles";
import { usePlace } from "../store/places";
import { followRenders } from "../store/renders";
import { Steadiness } from "../features/steadiness/Steadiness";
import { TopBar } from "./TopBar";

/** The product: its places, and what holds in all of them. */
export function App() {
  const come = useArriving((s) => s.come);
  const queries = useQueryClient();
  const place = usePlace((s) => s.place);
  const busy = useBusy((s) => s.count > 0);
  useEffect(() => {
    void begin();
    followRenders();
  }, []);
  useEffect(() => {
    if (!come) return;
    void queries.invalidateQueries({ queryKey: ["clips"] });
    void queries.invalidateQueries({ queryKey: ["tables"] });
    void queries.invalidateQueries({ queryKey: ["plates"] });
    void queries.invalidateQueries({ queryKey: ["plate used"] });
  }, [come, queries]);
  useHotkeys("mod+z", () => void walk("undo"), { preventDefault: true });
  useHotkeys("mod+shift+z", () => void walk("redo"), { preventDefault: true });
  return (
    <Flex direction="column" height="100vh" minW="1024px">
      <TopBar />
      <Flex as="main" direction="column" flex="1" minH="0" position="relative" aria-busy={busy}>
        {place === "bench" && <Bench />}
        {place === "steadiness" && <Steadiness />}
        {place === "output" && <Output />}
        <Arriving />
        <DropSheet />
      </Flex>
    </Flex>
  );
}

/** Open the project where it was left: the first clip, the look changed last. */
async function begin() {
  try {
    const [catalogue, clips, looks] = await Promise.all([
      got(api.GET("/api/catalogue")),
      got(api.GET("/api/clips")),
      got(api.GET("/api/looks")),
    ]);
    put({ catalogue });
    const look = looks[0] ?? (await firstLook());
    standing(look);
    if (clips[0] && !bench().clip) chooseClip(clips[0]);
  } catch (error) {
    notice("clips", error);
  }
}

async function firstLook() {
  const body = { format: "yearning-look/1", name: "First look", steps: [] } as unknown as undefined;
  return got(api.POST("/api/looks", { body }));
}

/** Files on their way in. */
function Arriving() {
  const arriving = useArriving((s) => s.arriving);
  if (!arriving.length) return null;
  return (
    <Box
      position="absolute"
      left="124px"
      bottom="12px"
      bg="paper"
      color="ink"
      borderRadius="6px"
      p="10px"
      zIndex="6"
      minW="260px"
      role="status"
    >
      {arriving.map(({ name, part }) => (
        <Box key={name}>
          {part < 1
            ? `Bringing in ${name}: ${Math.round(part * 100)} %`
            : `Looking through ${name}`}
          <Box height="4px" bg="line" borderRadius="2px" mt="4px">
            <Box height="100%" bg="tide" borderRadius="2px" style={{ width: `${part * 100}%` }} />
          </Box>
        </Box>
      ))}
    </Box>
  );
}

/** Takes files dropped anywhere on the page. */
function DropSheet() {
  const [over, setOver] = useState(false);
  useEffect(() => {
    let depth = 0;
    const files = (event: DragEvent) => event.dataTransfer?.types.includes("Files");
    const enter = (event: DragEvent) => {
      if (!files(event)) return;
      event.preventDefault();
      depth += 1;
      setOver(true);
    };
    const leave = () => {
      depth = Math.max(0, depth - 1);
      if (depth === 0) setOver(false);
    };
    const stay = (event: DragEvent) => files(event) && event.preventDefault();
    const drop = (event: DragEvent) => {
      if (!files(event)) return;
      event.preventDefault();
      depth = 0;
      setOver(false);
      void bringIn([...(event.dataTransfer?.files ?? [])]);
    };
    const heard = { dragenter: enter, dragleave: leave, dragover: stay, drop } as const;
    for (const [name, listener] of Object.entries(heard))
      window.addEventListener(name, listener as EventListener);
    return () => {
      for (const [name, listener] of Object.entries(heard))
        window.removeEventListener(name, listener as EventListener);
    };
  }, []);
  if (!over) return null;
  return (
    <Flex
      position="absolute"
      inset="0"
      zIndex="10"
      bg="rgb(30 30 30 / 70%)"
      color="#f4f4f4"
      align="center"
      justify="center"
      fontFamily="felt"
      fontStyle="italic"
      fontSize="26px"
      pointerEvents="none"
    >
      Let go to bring it in
    </Flex>
  );
}

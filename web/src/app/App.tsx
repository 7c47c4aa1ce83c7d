import { Flex } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useBusy } from "../api/busy";
import { api, type Look, type LookState, unwrap } from "../api/client";
import { listClips, listLooks } from "../api/lists";
import { Bench } from "../features/bench/Bench";
import { Output } from "../features/output/Output";
import { Proofs } from "../features/proofs/Proofs";
import { Reel } from "../features/reel/Reel";
import { Steadiness } from "../features/steadiness/Steadiness";
import { findStep } from "../model/lookTree";
import { watchAhead } from "../store/ahead";
import { useArrivals } from "../store/arrivals";
import { bench, setState, useBench } from "../store/bench";
import { chooseClip } from "../store/clips";
import { takeUp } from "../store/edits";
import { stepHistory, watchHistory } from "../store/history";
import { loadKeptSteps } from "../store/keptSteps";
import { undoStroke } from "../store/lifting";
import { applyLookState } from "../store/look";
import { startMemory, watchMemory } from "../store/memory";
import { notice } from "../store/notices";
import { usePlace } from "../store/places";
import { subscribeToRenders } from "../store/renders";
import { Arriving } from "./Arriving";
import { DropSheet } from "./DropSheet";
import { GettingReady } from "./GettingReady";
import { Gone } from "./Gone";
import { TopBar } from "./TopBar";

/** The product: its places, and what holds in all of them. */
export function App() {
  const come = useArrivals((s) => s.come);
  const queries = useQueryClient();
  const place = usePlace((s) => s.place);
  const alone = useBench((s) => s.alone && place === "bench");
  const busy = useBusy((s) => s.count > 0);
  const unsent = useBusy((s) => s.unsent > 0);
  useEffect(() => {
    void begin();
    subscribeToRenders();
  }, []);
  useEffect(() => {
    if (!come) return;
    void queries.invalidateQueries({ queryKey: ["clips"] });
    void queries.invalidateQueries({ queryKey: ["tables"] });
    void queries.invalidateQueries({ queryKey: ["grains"] });
    void queries.invalidateQueries({ queryKey: ["plates"] });
    void queries.invalidateQueries({ queryKey: ["plate used"] });
  }, [come, queries]);
  useHotkeys("mod+z", () => void (undoStroke() || stepHistory("undo")), { preventDefault: true });
  useHotkeys("mod+shift+z", () => void stepHistory("redo"), { preventDefault: true });
  return (
    <Flex direction="column" height="100vh" minW="1024px" position="relative">
      <DropSheet>
        <Gone />
        {!alone && <TopBar />}
        {!alone && <GettingReady />}
        <Flex
          as="main"
          direction="column"
          flex="1"
          minH="0"
          position="relative"
          aria-busy={busy}
          data-unsent={unsent || undefined}
        >
          {place === "bench" && <Bench />}
          {place === "reel" && <Reel />}
          {place === "proofs" && <Proofs />}
          {place === "steadiness" && <Steadiness />}
          {place === "output" && <Output />}
          <Arriving />
        </Flex>
      </DropSheet>
    </Flex>
  );
}

/** Open the project where it was left; else the first clip, the look changed last. */
async function begin() {
  try {
    const [project, catalogue, clips, looks] = await Promise.all([
      unwrap(api.GET("/api/v1/project")),
      unwrap(api.GET("/api/v1/catalogue")),
      listClips(),
      listLooks(),
      loadKeptSteps(),
    ]);
    setState({ catalogue, readOnly: project.read_only });
    const left = await startMemory(clips, looks);
    const look = left.look ?? (project.read_only ? NOTHING : await firstLook());
    applyLookState(look);
    await takeUp(look.id, look.revision);
    if (left.open !== undefined)
      setState({ open: findStep(bench().look?.steps ?? [], left.open)?.id ?? null });
    if (left.clip && !bench().clip) chooseClip(left.clip, left.left);
    watchMemory();
    watchHistory();
    watchAhead();
  } catch (error) {
    notice("clips", error);
  }
}

const EMPTY_LOOK: Look = { format: "yearning-look/3", name: "First look", steps: [] };

const firstLook = () => unwrap(api.POST("/api/v1/looks", { body: EMPTY_LOOK }));

/** Shown where there is no look, and none may be made. */
const NOTHING: LookState = {
  id: 0,
  revision: 0,
  name: EMPTY_LOOK.name,
  look: EMPTY_LOOK,
  digest: "",
  fittings: {},
  digests: {},
  undoes: null,
  redoes: null,
};

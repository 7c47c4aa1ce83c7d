import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import type { LookState, Reel } from "../../api/client";
import { countWords } from "../../model/words";
import { useBench } from "../../store/bench";
import { goToPlace } from "../../store/places";
import { useReel } from "../../store/reel";
import { reelResults, renderShots } from "../../store/reelRenders";
import { useRenders } from "../../store/renders";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { Popover } from "../../ui/Popover";
import { useClickOutside } from "../../ui/useClickOutside";
import { AsSelect, BitsSelect, QualitySelect, SizeSelect } from "../output/WantedSelects";
import { ReelMovie } from "./ReelMovie";

const MOST_HANDLES = 1000;

/** The reel out: its shots rendered, and the timeline whose media those are. */
export function RenderReel({ reel, looks }: { reel: Reel; looks: LookState[] }) {
  const [open, setOpen] = useState(false);
  const [handles, setHandles] = useState(0);
  const [said, setSaid] = useState("");
  const readOnly = useBench((s) => s.readOnly);
  const chosen = useReel((s) => s.chosen);
  const sheet = useRef<HTMLDivElement>(null);
  useClickOutside(sheet, open, () => setOpen(false));
  const seen = useRenders((s) => s.renders.map(({ id, state }) => `${id}${state}`).join());
  const digests = looks.map((look) => look.revision).join();
  const results = useQuery({ ...reelResults(reel, `${seen} ${digests}`), enabled: open });
  const count = (state: string) => results.data?.filter((r) => r.state === state).length ?? 0;
  const shots = reel.items.filter((item) => item.kind === "shot");
  const some = shots.filter(({ id }) => chosen.has(id)).map(({ id }) => id);
  const render = async (only: string[] | null) => {
    const done = await renderShots(reel, handles, only);
    if (!done) return;
    const kept = done.kept ? `, ${done.kept} there already` : "";
    setSaid(`${countWords(done.added.length, "shot")} on the way${kept}.`);
  };
  const timeline = (ending: string) =>
    `/api/v1/reels/${reel.id}/timeline?ending=${encodeURIComponent(ending)}`;
  return (
    <Box position="relative" ref={sheet}>
      <Button
        type="button"
        tone="main"
        aria-expanded={open}
        onClick={() => {
          setOpen(!open);
          setSaid("");
        }}
      >
        Render…
      </Button>
      {open && (
        <Popover
          role="dialog"
          aria-label="Render shots"
          position="absolute"
          top="36px"
          right="0"
          zIndex="6"
          width="330px"
        >
          <Flex direction="column" gap="6px">
            <Row label="As">
              <AsSelect ground="paper" />
            </Row>
            <Row label="Quality">
              <QualitySelect ground="paper" />
            </Row>
            <Row label="Size">
              <SizeSelect ground="paper" width={null} height={2160} />
            </Row>
            <Row label="Depth">
              <BitsSelect ground="paper" />
            </Row>
            <Row label="Handles">
              <Flex align="center" gap="6px">
                <NumberField
                  label="Frames more before and after each shot"
                  value={handles}
                  minimum={0}
                  maximum={MOST_HANDLES}
                  onEnter={setHandles}
                />
                <Box color="mute">frames before and after</Box>
              </Flex>
            </Row>
            <Flex gap="6px" mt="4px">
              <Button
                type="button"
                tone="main"
                flex="1"
                disabled={readOnly}
                onClick={() => void render(null)}
              >
                Render all {shots.length}
              </Button>
              {some.length > 0 && some.length < shots.length && (
                <Button
                  type="button"
                  flex="1"
                  disabled={readOnly}
                  onClick={() => void render(some)}
                >
                  Only the {some.length} chosen
                </Button>
              )}
            </Flex>
            <Box role="status" color="mute">
              {said || `Rendered as they are now: ${count("done")} of ${shots.length}`}
              {count("coming") > 0 && `, ${count("coming")} on the way`}{" "}
              <Button small tone="bare" type="button" onClick={() => goToPlace("output")}>
                See in Output
              </Button>
            </Box>
            <ReelMovie reel={reel} />
            <Box borderTopWidth="1px" borderColor="line" pt="8px">
              <Box mb="4px">The cut again, with what is rendered as its media</Box>
              <Flex gap="6px">
                {[".otio", ".edl"].map((ending) => (
                  <Button key={ending} asChild flex="1">
                    <a href={timeline(ending)} download>
                      Timeline {ending}
                    </a>
                  </Button>
                ))}
              </Flex>
            </Box>
          </Flex>
        </Popover>
      )}
    </Box>
  );
}

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <Flex align="center" gap="8px">
      <Box width="64px" flex="none" color="mute">
        {label}
      </Box>
      <Box flex="1" minW="0">
        {children}
      </Box>
    </Flex>
  );
}

import { Box, Flex } from "@chakra-ui/react";
import { HelpCircle } from "lucide-react";
import type { Render } from "../../api/client";
import { duration } from "../../model/duration";
import { fileSize } from "../../model/words";
import { setState, useBench } from "../../store/bench";
import { actOnRender, isUnended, useRenders } from "../../store/renders";
import type { Panel } from "../../store/slices/page";
import { Button } from "../../ui/Button";
import { ChoiceButtons } from "../../ui/ChoiceButtons";
import { Notices } from "../bench/Notices";
import { FootageCard } from "../footage/FootageCard";
import { ProjectFiles } from "../footage/ProjectFiles";
import { ManualPanel } from "../manual/ManualPanel";
import { ReadingsPanel } from "../readings/ReadingsPanel";
import { FlashCheck } from "./FlashCheck";
import { RenderAs } from "./RenderAs";

/** Renders shown on the Bench; all are in Output. */
const SHOWN = 4;

/** Width, in CSS pixels, under which the panels' names are written small. */
const NARROW = 230;

const PANELS: [Panel, string, string][] = [
  ["readings", "Scopes", "What the result measures"],
  ["footage", "Footage", "How the clip is read"],
  ["renders", "Renders", "What is rendered, and how"],
  ["manual", "Manual", "How the open step works, notes, and how-tos"],
];

/** Beside the picture: what it measures, how the clip is read, or what is rendered. */
export function SidePanel({ width }: { width: number }) {
  const panel = useBench((s) => s.panel);
  const narrow = width < NARROW;
  const under = useRenders((s) => s.renders.filter(isUnended).length);
  return (
    <Flex
      as="aside"
      aria-label={PANELS.find(([f]) => f === panel)?.[1]}
      direction="column"
      className="on-wall"
      width={`${width}px`}
      flex="none"
      bg="wallDeep"
      color="wallInk"
      p="10px"
      pt="6px"
      gap="8px"
      overflowX="hidden"
      overflowY="auto"
    >
      <Flex gap={narrow ? "2px" : "4px"} role="group" aria-label="Beside the picture">
        <ChoiceButtons
          choices={PANELS.map(([value, word, hint]) => ({
            value,
            word: faceOf(value, word, under),
            hint,
          }))}
          chosen={panel}
          ground="wall"
          flex="1 1 auto"
          minW="0"
          px={narrow ? "1px" : "2px"}
          fontSize={narrow ? "11px" : undefined}
          onChoose={(chosen) => setState({ panel: chosen })}
        />
      </Flex>
      {panel === "readings" && <ReadingsPanel />}
      {panel === "footage" && (
        <>
          <FootageCard />
          <ProjectFiles />
        </>
      )}
      {panel === "renders" && <Renders />}
      {panel === "manual" && <ManualPanel />}
    </Flex>
  );
}

/** A panel's word on its button: how many renders there are, and a sign for the manual. */
function faceOf(panel: Panel, word: string, under: number) {
  if (panel === "manual") return <HelpCircle size={15} aria-label={word} />;
  return panel === "renders" && under > 0 ? `${word} ${under}` : word;
}

function Renders() {
  const renders = useRenders((s) => s.renders).filter((render) => !render.put_away);
  return (
    <Box>
      <WantedOfClip />
      <Notices where="render" />
      {renders.length === 0 && (
        <Box color="wallMute">
          None yet. Render clip takes the clip through the look, its sound untouched.
        </Box>
      )}
      <Flex as="ul" direction="column" gap="8px" listStyleType="none">
        {renders.slice(0, SHOWN).map((render) => (
          <RenderCard key={render.id} render={render} />
        ))}
      </Flex>
      {renders.length > SHOWN && (
        <Button tone="wall" small asChild mt="8px">
          <a href="#output">All {renders.length} in Output</a>
        </Button>
      )}
    </Box>
  );
}

/** What the next render of the clip on the bench is to be, and whether it would flash. */
function WantedOfClip() {
  const clip = useBench((s) => s.clip);
  const look = useBench((s) => s.look);
  const moving = useBench((s) => s.moving);
  if (!clip) return null;
  return (
    <Box mb="8px">
      <RenderAs clips={[clip]} ground="wall" />
      {look && !moving && (
        <Box mt="6px">
          <FlashCheck clips={[clip]} lookOn={() => look} />
        </Box>
      )}
    </Box>
  );
}

const words: Record<Render["state"], string> = {
  waiting: "waits",
  running: "renders",
  paused: "paused",
  done: "done",
  stopped: "stopped",
  failed: "failed",
};

function RenderCard({ render }: { render: Render }) {
  const part = render.total ? render.done / render.total : 0;
  return (
    <Box as="li" bg="wallKey" borderRadius="6px" p="8px" data-state={render.state}>
      <Flex justify="space-between" gap="8px">
        <Box fontWeight="700" overflow="hidden" textOverflow="ellipsis" whiteSpace="nowrap">
          {render.clip_name}
        </Box>
        <Box color="wallMute">{words[render.state]}</Box>
      </Flex>
      <Box color="wallMute" fontSize="12px">
        with {render.look_name} · {render.summary}
      </Box>
      {isUnended(render) && (
        <>
          <Box
            role="progressbar"
            aria-label={`Render of ${render.clip_name}`}
            aria-valuenow={render.done}
            aria-valuemin={0}
            aria-valuemax={render.total}
            height="6px"
            borderRadius="3px"
            bg="wallDeep"
            my="6px"
            overflow="hidden"
          >
            <Box height="100%" bg="wallInk" style={{ width: `${part * 100}%` }} />
          </Box>
          <Flex justify="space-between" align="center" gap="8px">
            <Box fontSize="12px">
              {render.starting ? "starting workers" : `${render.done} of ${render.total}`}
              {render.rate ? ` · ${render.rate.toFixed(1)} frames/s` : ""}
              {render.left ? ` · ${duration(render.left)} left` : ""}
            </Box>
            <Button
              tone="wallOn"
              small
              type="button"
              onClick={() => void actOnRender(render, "stop")}
            >
              Stop
            </Button>
          </Flex>
        </>
      )}
      {render.state === "done" && (
        <Flex justify="space-between" align="center" mt="4px">
          <Box fontSize="12px">{render.bytes ? fileSize(render.bytes) : ""}</Box>
          <Button tone="wallOn" small asChild>
            <a href={`/api/v1/renders/${render.id}/file`} download={render.file}>
              Download
            </a>
          </Button>
        </Flex>
      )}
      {(render.state === "stopped" || render.state === "failed") && (
        <Flex justify="space-between" align="center" mt="4px">
          <Box fontSize="12px">
            {render.done} of {render.total} kept
          </Box>
          <Button
            tone="wallOn"
            small
            type="button"
            onClick={() => void actOnRender(render, "resume")}
          >
            Go on
          </Button>
        </Flex>
      )}
      {render.message && (
        <Box fontSize="12px" mt="4px" overflowWrap="anywhere">
          {render.message}
        </Box>
      )}
    </Box>
  );
}

import { Box, Flex } from "@chakra-ui/react";
import { useEffect } from "react";
import type { Render } from "../api/client";
import { Key } from "../controls/Key";
import { useBench } from "../state/bench";
import { loadRenders, running, stopRender, useRenders } from "../state/renders";
import { Notices } from "./Notices";

/** What the clip is, and the renders: how far, how fast, how long; stop, download. */
export function SidePanel() {
  const clip = useBench((s) => s.clip);
  const renders = useRenders((s) => s.renders);
  useEffect(() => {
    void loadRenders();
  }, []);
  return (
    <Flex
      as="aside"
      aria-label="Footage and renders"
      direction="column"
      className="on-wall"
      width="300px"
      flex="none"
      bg="wallDeep"
      color="wallInk"
      p="12px"
      gap="10px"
      overflowY="auto"
    >
      {clip && (
        <Box>
          <Heading>Footage</Heading>
          <Fact says="coded as">
            {clip.codec}, {clip.pixel_format}
          </Fact>
          <Fact says="colour">
            {clip.matrix.replace("bt", "BT.")}
            {clip.matrix_tagged ? "" : " (guessed)"}, {clip.range} range
          </Fact>
          <Fact says="sound">
            {clip.audio.map((a) => `${a.codec}, ${a.rate / 1000} kHz`).join("; ") || "none"}
          </Fact>
        </Box>
      )}
      <Box>
        <Heading>Renders</Heading>
        <Notices where="render" />
        {renders.length === 0 && (
          <Box color="wallMute">
            None yet. Render clip takes the whole clip through the look, its sound untouched.
          </Box>
        )}
        <Flex as="ul" direction="column" gap="8px" listStyleType="none">
          {renders.slice(0, 12).map((render) => (
            <RenderCard key={render.id} render={render} />
          ))}
        </Flex>
      </Box>
    </Flex>
  );
}

function Heading({ children }: { children: string }) {
  return (
    <Box as="h2" fontFamily="felt" fontStyle="italic" fontSize="16px" mb="4px">
      {children}
    </Box>
  );
}

function Fact({ says, children }: { says: string; children: React.ReactNode }) {
  return (
    <Flex justify="space-between" gap="10px" fontSize="12px" lineHeight="1.55">
      <Box color="wallMute">{says}</Box>
      <Box textAlign="right">{children}</Box>
    </Flex>
  );
}

const words: Record<Render["state"], string> = {
  waiting: "waits",
  running: "renders",
  done: "done",
  stopped: "stopped",
  failed: "failed",
};

function duration(seconds: number): string {
  const whole = Math.ceil(seconds);
  return whole < 60 ? `${whole} s` : `${Math.floor(whole / 60)} min ${whole % 60} s`;
}

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
        with {render.look_name}
      </Box>
      {running(render) && (
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
              {render.done} of {render.total}
              {render.rate ? ` · ${render.rate.toFixed(1)} frames/s` : ""}
              {render.left ? ` · ${duration(render.left)} left` : ""}
            </Box>
            <Key tone="wallOn" small type="button" onClick={() => void stopRender(render.id)}>
              Stop
            </Key>
          </Flex>
        </>
      )}
      {render.state === "done" && (
        <Flex justify="space-between" align="center" mt="4px">
          <Box fontSize="12px">{render.bytes ? `${(render.bytes / 1e6).toFixed(1)} MB` : ""}</Box>
          <Key tone="wallOn" small asChild>
            <a href={`/api/renders/${render.id}/file`} download={render.file}>
              Download
            </a>
          </Key>
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

import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Render } from "../../api/client";
import { listLooks } from "../../api/lists";
import { olderThanTheirLooks } from "../../model/olderRenders";
import { countWords } from "../../model/words";
import { actOnRender, isUnended, renderAgain, useRenders } from "../../store/renders";
import { Button } from "../../ui/Button";
import { RenderClips } from "./RenderClips";
import { Rendered } from "./Rendered";
import { RenderingNow } from "./RenderingNow";

/** Output: what is being rendered, what was, and what is to be. */
export function Output() {
  const renders = useRenders((s) => s.renders);
  const now = renders
    .filter(isUnended)
    .sort(
      (a, b) => Number(a.state === "waiting") - Number(b.state === "waiting") || a.rank - b.rank,
    );
  const ended = renders.filter((render) => !isUnended(render) && !render.put_away);
  const away = renders.filter((render) => render.put_away);
  const looks = useQuery({
    queryKey: ["looks", "as rendered"],
    queryFn: listLooks,
    refetchOnMount: "always",
  });
  const changed = olderThanTheirLooks(ended, looks.data ?? []);
  const nextId = now.find((render) => render.state === "waiting")?.id;
  const busy = now.some((render) => render.state !== "waiting");
  return (
    <Flex flex="1" minH="0">
      <Flex direction="column" flex="1" minW="0" px="20px" py="14px" gap="10px" overflowY="auto">
        {now.length > 0 && (
          <Box as="section" aria-label="Rendering now">
            <Flex justify="space-between" align="baseline" mb="8px">
              <Title>Rendering now</Title>
              <Box color="mute">closing this page does not stop it</Box>
            </Flex>
            <Flex as="ul" direction="column" gap="8px" listStyleType="none">
              {now.map((render) => (
                <RenderingNow
                  key={render.id}
                  render={render}
                  next={render.id === nextId && !busy}
                />
              ))}
            </Flex>
          </Box>
        )}
        <Box as="section" aria-label="Rendered">
          <Flex align="baseline" gap="12px">
            <Title>Rendered</Title>
            {changed.length > 0 && (
              <Button
                small
                type="button"
                title="Render anew what was rendered with a look that has changed since"
                onClick={() => changed.forEach((render) => void renderAgain(render, "now"))}
              >
                Render what changed: {countWords(changed.length, "clip")}
              </Button>
            )}
          </Flex>
          {ended.length === 0 && (
            <Box color="mute" mt="6px">
              Nothing yet. Choose clips and a look on the right; each result is listed here, to be
              taken, or rendered again.
            </Box>
          )}
          <Flex as="ul" direction="column" listStyleType="none">
            {ended.map((render) => (
              <Rendered
                key={render.id}
                render={render}
                look={looks.data?.find((look) => look.id === render.look_id)}
              />
            ))}
          </Flex>
          <HiddenRenders renders={away} />
        </Box>
      </Flex>
      <RenderClips />
    </Flex>
  );
}

/** Renders that were hidden: listed when asked for, and shown again. */
function HiddenRenders({ renders }: { renders: Render[] }) {
  const [shown, setShown] = useState(false);
  if (renders.length === 0) return null;
  return (
    <Box mt="8px">
      <Button
        small
        tone="bare"
        type="button"
        aria-expanded={shown}
        onClick={() => setShown(!shown)}
      >
        {countWords(renders.length, "render")} hidden
      </Button>
      {shown && (
        <Flex
          as="ul"
          aria-label="Hidden renders"
          direction="column"
          gap="4px"
          mt="4px"
          listStyleType="none"
        >
          {renders.map((render) => (
            <Flex as="li" key={render.id} align="center" gap="10px">
              <Box flex="1" minW="0" color="mute" overflow="hidden" textOverflow="ellipsis">
                {render.clip_name} with {render.look_name} · {render.file}
              </Box>
              <Button small type="button" onClick={() => void actOnRender(render, "restore")}>
                Show again
              </Button>
            </Flex>
          ))}
        </Flex>
      )}
    </Box>
  );
}

function Title({ children }: { children: string }) {
  return (
    <Box as="h2" fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="20px">
      {children}
    </Box>
  );
}

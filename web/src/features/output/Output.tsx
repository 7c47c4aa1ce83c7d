import { Box, Flex } from "@chakra-ui/react";
import { unended, useRenders } from "../../store/renders";
import { RenderClips } from "./RenderClips";
import { Rendered } from "./Rendered";
import { RenderingNow } from "./RenderingNow";

/** Output: what is being rendered, what was, and what is to be. */
export function Output() {
  const renders = useRenders((s) => s.renders);
  const now = renders
    .filter(unended)
    .sort(
      (a, b) => Number(a.state === "waiting") - Number(b.state === "waiting") || a.rank - b.rank,
    );
  const ended = renders.filter((render) => !unended(render));
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
          <Title>Rendered</Title>
          {ended.length === 0 && (
            <Box color="mute" mt="6px">
              Nothing yet. Choose clips and a look on the right; each result is listed here, to be
              taken, or rendered again.
            </Box>
          )}
          <Flex as="ul" direction="column" listStyleType="none">
            {ended.map((render) => (
              <Rendered key={render.id} render={render} />
            ))}
          </Flex>
        </Box>
      </Flex>
      <RenderClips />
    </Flex>
  );
}

function Title({ children }: { children: string }) {
  return (
    <Box as="h2" fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="20px">
      {children}
    </Box>
  );
}

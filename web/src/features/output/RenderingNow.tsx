import { Box, chakra, Flex } from "@chakra-ui/react";
import type { Render } from "../../api/client";
import { duration } from "../../model/duration";
import { actOnRender } from "../../store/renders";
import { Button } from "../../ui/Button";

const Image = chakra("img");

/** A render on its way: a strip that fills with its own pictures as they are rendered. */
export function RenderingNow({ render, next }: { render: Render; next: boolean }) {
  const running = render.state === "running";
  return (
    <Box
      as="li"
      bg="paper"
      borderWidth="1px"
      borderColor={running ? "mute" : "line"}
      borderRadius="8px"
      px="14px"
      py="10px"
      data-state={render.state}
    >
      <Flex align="center" gap="10px" mb="8px">
        <Box fontWeight="700" fontSize="15px" whiteSpace="nowrap">
          {render.clip_name}
        </Box>
        <Box
          color="mute"
          flex="1"
          minW="0"
          overflow="hidden"
          textOverflow="ellipsis"
          whiteSpace="nowrap"
        >
          with {render.look_name} · {render.summary}
        </Box>
        <Box whiteSpace="nowrap">{progressWords(render)}</Box>
        {!next && !running && (
          <Button small type="button" onClick={() => void actOnRender(render, "prioritize")}>
            Sooner
          </Button>
        )}
        <Button small type="button" onClick={() => void actOnRender(render, "stop")}>
          Stop
        </Button>
      </Flex>
      <Strip render={render} />
      <Flex justify="space-between" gap="12px" mt="6px" color="mute" fontSize="12px">
        <Box whiteSpace="nowrap">
          {render.starting ? `${render.total} frames` : `${render.done} of ${render.total} frames`}
        </Box>
        <Box
          minW="0"
          overflow="hidden"
          textOverflow="ellipsis"
          whiteSpace="nowrap"
          title={render.path}
        >
          {running && render.where ? `${render.where} → ` : "→ "}
          {render.file}
        </Box>
      </Flex>
      {render.message && (
        <Box role="status" mt="6px" overflowWrap="anywhere">
          {render.message}
        </Box>
      )}
    </Box>
  );
}

function progressWords(render: Render): string {
  if (render.state === "paused") return "paused";
  if (render.state === "waiting") return render.done ? "waits to go on" : "waits";
  if (render.starting) return "starting workers";
  if (!render.rate) return "begins";
  const left = render.left ? ` · ${duration(render.left)} left` : "";
  return `${render.rate.toFixed(1)} frames/s${left}`;
}

/** A cell for each part of the clip, with its first frame once that is rendered. */
export function Strip({ render }: { render: Render }) {
  return (
    <Flex
      gap="2px"
      height="48px"
      role="progressbar"
      aria-label={`Render of ${render.clip_name}`}
      aria-valuenow={render.done}
      aria-valuemin={0}
      aria-valuemax={render.total}
    >
      {render.strip.map((cell, place) => (
        <Box
          // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its place
          key={place}
          flex="1"
          minW="0"
          bg="line"
          borderRadius="2px"
          overflow="hidden"
          borderWidth={cell.state === "in hand" ? "2px" : "0"}
          borderStyle="dashed"
          borderColor="ember"
          data-cell={cell.state}
        >
          {cell.picture !== null && cell.picture !== undefined && (
            <Image
              src={`/api/v1/renders/${render.id}/pictures/${cell.picture}`}
              alt=""
              width="100%"
              height="100%"
              objectFit="cover"
              draggable={false}
            />
          )}
        </Box>
      ))}
    </Flex>
  );
}

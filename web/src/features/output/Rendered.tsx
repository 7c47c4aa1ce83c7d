import { Box, chakra, Flex } from "@chakra-ui/react";
import { X } from "lucide-react";
import { useState } from "react";
import type { LookState, Render } from "../../api/client";
import { isOlder } from "../../model/olderRenders";
import { fileSize, when } from "../../model/words";
import { actOnRender, deletePieces, hideRender, renderAgain } from "../../store/renders";
import { Button } from "../../ui/Button";

const Image = chakra("img");

/** A render that has ended: what of, how it went, and what can be done with it. */
export function Rendered({ render, look }: { render: Render; look?: LookState }) {
  const [placed, setPlaced] = useState(false);
  const done = render.state === "done";
  const megabytes = render.bytes ? fileSize(render.bytes) : "";
  return (
    <Box
      as="li"
      borderBottomWidth="1px"
      borderColor="line"
      py="9px"
      data-state={render.state}
      data-render={render.id}
    >
      <Flex align="center" gap="14px">
        <Flex gap="2px" flex="none" title="As shot, and as rendered">
          <Small source={`/api/v1/clips/${render.clip}/filmstrip?count=1`} alt="As shot" />
          <Small
            source={
              render.picture === null || render.picture === undefined
                ? null
                : `/api/v1/renders/${render.id}/pictures/${render.picture}`
            }
            alt="As rendered"
          />
        </Flex>
        <Box width="150px" flex="none">
          <Line strong>{render.clip_name}</Line>
          <Line>with {render.look_name}</Line>
          {isOlder(render, look) && <Line>which has changed since</Line>}
        </Box>
        <Box flex="1" minW="0">
          <Line ink>{render.file}</Line>
          <Line>
            {render.summary}
            {done && megabytes && ` · ${megabytes}`}
          </Line>
        </Box>
        <Box width="104px" flex="none">
          <Line>{when(render.ended)}</Line>
          <Line>
            {done
              ? render.rate
                ? `${render.rate.toFixed(1)} frames/s`
                : ""
              : `${render.done} of ${render.total}`}
          </Line>
        </Box>
        <Flex gap="6px" flex="none" justify="flex-end" width="248px">
          {done ? (
            <>
              <Button small type="button" aria-expanded={placed} onClick={() => setPlaced(!placed)}>
                Location
              </Button>
              <Button small asChild>
                <a
                  href={`/api/v1/renders/${render.id}/file`}
                  download={render.file}
                  aria-label={`Download ${render.file}`}
                >
                  Download
                </a>
              </Button>
            </>
          ) : (
            <>
              <Button small type="button" onClick={() => void actOnRender(render, "resume")}>
                Go on
              </Button>
              {render.done > 0 && (
                <Button
                  small
                  type="button"
                  title="Delete what is finished of it"
                  onClick={() => void deletePieces(render)}
                >
                  Free {megabytes}
                </Button>
              )}
            </>
          )}
          <Again render={render} older={isOlder(render, look)} />
          <Button
            small
            type="button"
            px="6px"
            aria-label={`Hide ${render.file}`}
            title="Hide it in this list; its files stay, and it can be shown again"
            onClick={() => void hideRender(render)}
          >
            <X size={14} />
          </Button>
        </Flex>
      </Flex>
      {!done && (
        <Flex mt="6px" gap="8px" overflowWrap="anywhere">
          <Box fontWeight="700" color={render.state === "failed" ? "ember" : "mute"}>
            {render.state === "failed" ? "Failed" : "Stopped"}
          </Box>
          <Box minW="0">
            {render.state === "failed"
              ? render.message
              : render.done
                ? `${render.done} frames are finished and kept; Go on renders the others.`
                : "Nothing of it is kept; Go on begins it anew."}
          </Box>
        </Flex>
      )}
      {placed && (
        <Box mt="6px" userSelect="all" overflowWrap="anywhere">
          {render.path}
        </Box>
      )}
    </Box>
  );
}

/** Render it once more; where its look has changed since, with that as it is now or as it was. */
function Again({ render, older }: { render: Render; older: boolean }) {
  const [asked, setAsked] = useState(false);
  if (!older)
    return (
      <Button
        small
        type="button"
        title="Render the same clip with the same look once more, from its beginning"
        onClick={() => void renderAgain(render, "then")}
      >
        Again
      </Button>
    );
  const again = (look: "then" | "now") => () => {
    setAsked(false);
    void renderAgain(render, look);
  };
  return (
    <Box
      position="relative"
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.stopPropagation();
        setAsked(false);
      }}
    >
      <Button small type="button" aria-expanded={asked} onClick={() => setAsked(!asked)}>
        Again…
      </Button>
      {asked && (
        <Flex
          direction="column"
          position="absolute"
          right="0"
          top="30px"
          zIndex="4"
          gap="4px"
          p="6px"
          bg="paper"
          borderWidth="1px"
          borderColor="mute"
          borderRadius="6px"
        >
          <Button small type="button" onClick={again("now")}>
            With the look as it is now
          </Button>
          <Button small type="button" onClick={again("then")}>
            With the look as it was
          </Button>
        </Flex>
      )}
    </Box>
  );
}

function Small({ source, alt }: { source: string | null; alt: string }) {
  return (
    <Box width="80px" height="45px" bg="line" borderRadius="3px" overflow="hidden">
      {source && <Image src={source} alt={alt} width="100%" height="100%" objectFit="contain" />}
    </Box>
  );
}

interface LineProps {
  children: React.ReactNode;
  strong?: boolean;
  ink?: boolean;
}

function Line({ children, strong, ink }: LineProps) {
  return (
    <Box
      color={strong || ink ? "ink" : "mute"}
      fontWeight={strong ? 700 : 400}
      overflow="hidden"
      textOverflow="ellipsis"
      whiteSpace="nowrap"
    >
      {children}
    </Box>
  );
}

import { Box, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Moon, Redo2, Sun, Undo2 } from "lucide-react";
import { useRef, useState } from "react";
import { api, type Clip, unwrap } from "../api/client";
import { OverrideScopeSwitch } from "../features/fitting/OverrideScopeSwitch";
import { LookMenu } from "../features/path/LookMenu";
import { lastDone, lastUndone } from "../model/history";
import { capitalize } from "../model/stepNames";
import { timecode } from "../model/timecode";
import { useBench } from "../store/bench";
import { useClips } from "../store/clips";
import { isLast } from "../store/edits";
import { stepHistory } from "../store/history";
import { useHistory } from "../store/historyState";
import { importFiles } from "../store/importFiles";
import { returnToClip } from "../store/memory";
import { PLACES, usePlace } from "../store/places";
import { isUnended, renderBench, useRenders } from "../store/renders";
import { Button } from "../ui/Button";

const Select = chakra("select");

const LOOKING =
  "The project was opened with --read-only. Try what you like: nothing of it is kept.";

/** Says that the look is not kept yet as it is shown. */
function Unkept() {
  const reason = useBench((s) => s.unkept);
  const readOnly = useBench((s) => s.readOnly);
  if (readOnly)
    return (
      <Box role="status" color="ember" fontSize="12px" flex="0 0 auto" title={LOOKING}>
        Open for looking
      </Box>
    );
  if (reason === null) return null;
  return (
    <Box
      role="status"
      color="ember"
      fontSize="12px"
      truncate
      minW="0"
      flex="0 1 auto"
      title={`${reason} Your edit is kept in this browser, and sent again by itself.`}
    >
      Not kept yet: {reason}
    </Box>
  );
}

/** The product, the clip, the look, and what is done with them. */
export function TopBar() {
  const clip = useBench((s) => s.clip);
  const look = useBench((s) => s.look);
  const revision = useBench((s) => s.revision);
  const readOnly = useBench((s) => s.readOnly);
  const deleted = useBench((s) => (isLast(s.deleted) ? `deleting ${s.deleted.name}` : undefined));
  const ofLook = { undo: useBench((s) => s.undoes), redo: useBench((s) => s.redoes) };
  const other = {
    undo: useHistory((h) => lastDone(h, revision)?.words),
    redo: useHistory((h) => lastUndone(h, revision)?.words),
  };
  const undoes = deleted ?? other.undo ?? ofLook.undo?.words;
  const redoes = other.redo ?? ofLook.redo?.words;
  const project = useQuery({
    queryKey: ["project"],
    queryFn: () => unwrap(api.GET("/api/v1/project")),
  });
  const clips = useClips();
  const place = usePlace((s) => s.place);
  const ofClip = place !== "output" && place !== "reel";
  const [dim, setDim] = useState(false);
  const picker = useRef<HTMLInputElement>(null);

  return (
    <Flex
      as="header"
      position="relative"
      align="center"
      gap={{ base: "6px", xl: "10px" }}
      height="42px"
      px={{ base: "10px", xl: "16px" }}
      bg="paper"
      borderBottomWidth="1px"
      borderColor="line"
    >
      <Box as="h1" fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="23px" mr="4px">
        Yearning
      </Box>
      <Box color="mute" truncate minW="0" flex="0 2 auto" display={{ base: "none", xl: "block" }}>
        {project.data?.name}
      </Box>
      {ofClip && (
        <>
          <Select
            aria-label="Clip"
            title={clip ? saidOf(clip) : undefined}
            value={clip?.id ?? ""}
            onChange={(event) => {
              if (event.target.value === "bring") picker.current?.click();
              const found = clips.data?.find((c) => c.id === Number(event.target.value));
              if (found) void returnToClip(found);
            }}
            height="30px"
            maxW={{ base: "116px", xl: "180px" }}
            px="8px"
            bg="sheet"
            borderWidth="1px"
            borderColor="line"
            borderRadius="6px"
            fontSize="13px"
          >
            {!clip && <option value="">no clip yet</option>}
            {clips.data?.map((c) => (
              <option key={c.id} value={c.id}>
                {c.name}
              </option>
            ))}
            <option value="bring">Bring in a clip…</option>
          </Select>
          {place === "bench" && <OverrideScopeSwitch />}
        </>
      )}
      <input
        ref={picker}
        type="file"
        multiple
        hidden
        aria-label="Files to bring in"
        onChange={(event) => {
          void importFiles([...(event.target.files ?? [])]);
          event.target.value = "";
        }}
      />
      <Box flex="1" />
      <Places />
      <Box flex="1" />
      <Unkept />
      {ofClip && <LookMenu />}
      <Button
        tone="bare"
        type="button"
        disabled={!undoes}
        aria-label="Undo"
        title={undoes ? `Undo ${undoes} (Ctrl+Z)` : "Nothing to undo"}
        onClick={() => void stepHistory("undo")}
      >
        <Undo2 size={16} />
        <Box as="span" display={{ base: "none", xl: "inline" }}>
          Undo
        </Box>
      </Button>
      <Button
        tone="bare"
        type="button"
        disabled={!redoes}
        aria-label="Redo"
        title={redoes ? `Redo ${redoes} (Ctrl+Shift+Z)` : "Nothing to redo"}
        onClick={() => void stepHistory("redo")}
      >
        <Redo2 size={16} />
      </Button>
      <Walked />
      <Button
        tone="bare"
        type="button"
        aria-label={dim ? "Light room" : "Dim room"}
        aria-pressed={dim}
        title="For a dim room"
        onClick={() => {
          document.documentElement.classList.toggle("dark", !dim);
          setDim(!dim);
        }}
      >
        {dim ? <Sun size={16} /> : <Moon size={16} />}
      </Button>
      {place === "bench" && (
        <Button
          tone="main"
          type="button"
          disabled={!clip || !look || readOnly}
          title="Render the whole clip (R)"
          onClick={() => void renderBench()}
        >
          Render clip
        </Button>
      )}
    </Flex>
  );
}

/** What a clip is, in a line. */
const saidOf = (clip: Clip) =>
  `${clip.width}×${clip.height} · ${Number(clip.rate.toFixed(3))} fps · ${timecode(clip.frames, clip.rate)}`;

/** What Undo or Redo just did. */
function Walked() {
  const words = useBench((s) => s.walked?.words);
  return (
    <Box role="status" position="absolute" top="46px" right="16px" zIndex={5}>
      {words && (
        <Box
          bg="paper"
          color="ink"
          px="10px"
          py="5px"
          borderRadius="5px"
          boxShadow="0 1px 4px #0004"
        >
          {words}
        </Box>
      )}
    </Box>
  );
}

/** The places, and how many renders are on their way. */
function Places() {
  const here = usePlace((s) => s.place);
  const rendering = useRenders((s) => s.renders.filter(isUnended).length);
  return (
    <Flex as="nav" aria-label="Places" gap="2px">
      {PLACES.map((place) => (
        <Button
          key={place}
          tone={place === here ? "here" : "bare"}
          asChild
          px={{ base: "5px", xl: "10px" }}
          borderRadius="15px"
        >
          <a href={`#${place}`} aria-current={place === here ? "page" : undefined}>
            {capitalize(place)}
            {place === "output" && rendering > 0 && (
              <Box as="span" title={`${rendering} on the way`}>
                {rendering}
              </Box>
            )}
          </a>
        </Button>
      ))}
    </Flex>
  );
}

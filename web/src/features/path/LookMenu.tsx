import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import type { LookState } from "../../api/client";
import { listLooks } from "../../api/lists";
import { MOST } from "../../model/proofs";
import { countWords } from "../../model/words";
import { setState, useBench } from "../../store/bench";
import { edit, restoreDeleted } from "../../store/edits";
import { lookOn } from "../../store/fittings";
import { importFiles } from "../../store/importFiles";
import { deleteLook, newLook, openLook, saveAs } from "../../store/looks";
import { goToPlace } from "../../store/places";
import { closeSheet, openSheet } from "../../store/proofs";
import { useReel } from "../../store/reel";
import { Button } from "../../ui/Button";
import { DeletedRow } from "../../ui/DeletedRow";
import { ListRow } from "../../ui/ListRow";
import { TextField } from "../../ui/TextField";
import { Thumbnail } from "../../ui/Thumbnail";
import { useClickOutside } from "../../ui/useClickOutside";
import { beginDrag, LOOK } from "../reel/dragging";
import { Baked } from "./Baked";
import { showStarters } from "./Starters";
import { usePictures } from "./usePictures";

/** From so many on, looks are searched. */
const MANY = 6;

/** The look's name, and a sheet to rename, open, begin, keep a copy, or take it out as a file. */
export function LookMenu() {
  const look = useBench((s) => s.look);
  const clip = useBench((s) => s.clip);
  const lookId = useBench((s) => s.lookId);
  const revision = useBench((s) => s.revision);
  const deleted = useBench((s) => s.deleted);
  const open = useBench((s) => s.looksShown);
  const onReel = useReel((s) => s.onBench !== null);
  const setOpen = (looksShown: boolean) => setState({ looksShown });
  const [name, setName] = useState("");
  const sheet = useRef<HTMLDivElement>(null);
  const picker = useRef<HTMLInputElement>(null);
  const looks = useQuery({
    queryKey: ["looks", open, lookId, revision, deleted?.id],
    queryFn: listLooks,
    enabled: open,
  });

  useEffect(() => {
    if (open) setName(look?.name ?? "");
  }, [open, look?.name]);
  useClickOutside(sheet, open, () => setOpen(false));

  const rename = () => {
    const given = name.trim();
    if (given && given !== look?.name) edit((l) => ({ ...l, name: given }));
  };

  return (
    <Box
      position="relative"
      ref={sheet}
      onKeyDown={(event) => event.key === "Escape" && setOpen(false)}
    >
      <Button
        type="button"
        aria-haspopup="dialog"
        aria-expanded={open}
        draggable={onReel}
        onDragStart={(event) => beginDrag(event, LOOK, lookId ?? "")}
        onClick={() => setOpen(!open)}
        maxW={{ base: "150px", xl: "210px" }}
      >
        <Box as="span" color="mute">
          Look
        </Box>
        <Box as="span" overflow="hidden" textOverflow="ellipsis">
          {look?.name ?? "none"}
        </Box>
        ▾
      </Button>
      {open && (
        <Box
          role="dialog"
          aria-label="Looks"
          position="absolute"
          top="36px"
          right="0"
          width="400px"
          bg="paper"
          borderWidth="1px"
          borderColor="line"
          borderRadius="8px"
          boxShadow="0 6px 24px rgb(0 0 0 / 22%)"
          zIndex="20"
          p="12px"
        >
          <Box color="mute" fontSize="12px" mb="3px">
            Name
          </Box>
          <Flex gap="6px">
            <TextField
              aria-label="Name of the look"
              autoFocus
              flex="1"
              value={name}
              maxLength={120}
              onChange={(event) => setName(event.target.value)}
              onKeyDown={(event) => event.key === "Enter" && rename()}
            />
            <Button type="button" px="8px" onClick={rename}>
              Rename
            </Button>
            <Button
              type="button"
              px="8px"
              title="Keep this state as a look of its own"
              onClick={() => {
                const given = name.trim();
                void saveAs(given && given !== look?.name ? given : `${look?.name} copy`);
                setOpen(false);
              }}
            >
              Save a copy
            </Button>
          </Flex>
          <Box color="mute" fontSize="12px" mt="5px">
            Every change is kept as you make it; Undo walks back, also after a restart.
          </Box>
          {deleted && <DeletedRow name={deleted.name} onRestore={() => void restoreDeleted()} />}
          <Flex gap="6px" mt="8px" wrap="wrap">
            <Button
              small
              type="button"
              onClick={() => {
                void newLook();
                setOpen(false);
              }}
            >
              New look
            </Button>
            <Button
              small
              type="button"
              onClick={() => {
                showStarters();
                setOpen(false);
              }}
            >
              Starter looks
            </Button>
            <Button
              small
              type="button"
              title="A proof sheet of all looks on this frame"
              disabled={(looks.data?.length ?? 0) < 2}
              onClick={() => {
                const ids = (looks.data ?? []).slice(0, MOST).map((l) => l.id);
                openSheet({ kind: "looks", ids });
                setOpen(false);
              }}
            >
              Side by side
            </Button>
            <Button
              small
              type="button"
              title="Find a grade that brings the clip near another picture"
              disabled={!clip}
              onClick={() => {
                closeSheet();
                goToPlace("proofs");
                setOpen(false);
              }}
            >
              Like a picture…
            </Button>
            <Button small type="button" onClick={() => picker.current?.click()}>
              Open a look file…
            </Button>
            <Button small asChild>
              <a
                href={`/api/v1/looks/${lookId}/file${clip ? `?clip=${clip.id}` : ""}`}
                title={clip ? `As it stands on ${clip.name}` : undefined}
                download
              >
                Save as file
              </a>
            </Button>
          </Flex>
          <Baked />
          <LookList looks={looks.data ?? NONE} />
          <Flex>
            <input
              ref={picker}
              type="file"
              accept=".json,application/json"
              hidden
              onChange={(event) => {
                void importFiles([...(event.target.files ?? [])]);
                event.target.value = "";
                setOpen(false);
              }}
            />
          </Flex>
        </Box>
      )}
    </Box>
  );
}

const NONE: LookState[] = [];

/**
 * The looks, each on the frame at hand: searched where they are many, opened, deleted. They come
 * when they have been loaded, so they stand last: no button moves from under the pointer.
 */
function LookList({ looks }: { looks: LookState[] }) {
  const lookId = useBench((s) => s.lookId);
  const clip = useBench((s) => s.clip);
  const [search, setSearch] = useState("");
  const pictures = usePictures(
    useMemo(
      () => looks.map((l) => [String(l.id), clip ? lookOn(clip, l) : l.look] as const),
      [looks, clip],
    ),
  );
  const found = looks.filter((l) => l.name.toLowerCase().includes(search.trim().toLowerCase()));
  return (
    <>
      {looks.length >= MANY && (
        <TextField
          aria-label="Search the looks"
          placeholder={`Search ${looks.length} looks`}
          mt="8px"
          width="100%"
          height="26px"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
      )}
      <Box
        as="ul"
        mt="8px"
        maxH="264px"
        overflowY="auto"
        borderTopWidth="1px"
        borderColor="line"
        pt="4px"
        listStyleType="none"
      >
        {found.map((l) => (
          <ListRow
            key={l.id}
            height="44px"
            gap="10px"
            fontWeight={l.id === lookId ? 700 : 400}
            aria-current={l.id === lookId}
            onClick={() => {
              void openLook(l.id);
              setState({ looksShown: false });
            }}
            removal={`Delete ${l.name}`}
            removalHint="Delete it; Undo brings it back"
            onRemove={() => void deleteLook(l)}
          >
            <Thumbnail width={64} source={pictures[l.id]} alt="" />
            <Box as="span" truncate>
              {l.name}
            </Box>
            <Box as="span" color="mute" fontWeight="400" ml="auto">
              {countWords(l.look.steps.length, "step")}
            </Box>
          </ListRow>
        ))}
        {found.length === 0 && looks.length > 0 && (
          <Box color="mute" py="6px">
            No look is called that.
          </Box>
        )}
      </Box>
    </>
  );
}

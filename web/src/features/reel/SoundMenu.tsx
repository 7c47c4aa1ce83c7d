import { Box } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import type { Sound } from "../../api/client";
import { useBench } from "../../store/bench";
import {
  bringSound,
  deleteSound,
  layUnder,
  restoreSound,
  soundsQuery,
} from "../../store/reelSounds";
import { Button } from "../../ui/Button";
import { DeletedRow } from "../../ui/DeletedRow";
import { ListRow } from "../../ui/ListRow";
import { Popover } from "../../ui/Popover";
import { useClickOutside } from "../../ui/useClickOutside";

/** The project's sounds: laid under the shots, brought in, deleted and brought back. */
export function SoundMenu() {
  const readOnly = useBench((s) => s.readOnly);
  const [open, setOpen] = useState(false);
  const [deleted, setDeleted] = useState<Sound | null>(null);
  const sounds = useQuery(soundsQuery);
  const sheet = useRef<HTMLDivElement>(null);
  const picker = useRef<HTMLInputElement>(null);
  useClickOutside(sheet, open, () => setOpen(false));
  return (
    <Box
      position="relative"
      ref={sheet}
      onKeyDown={(event) => {
        if (event.key !== "Escape" || !open) return;
        setOpen(false);
        event.stopPropagation();
      }}
    >
      <Button
        small
        type="button"
        aria-haspopup="dialog"
        aria-expanded={open}
        disabled={readOnly}
        onClick={() => setOpen(!open)}
      >
        Lay a sound under… ▾
      </Button>
      {open && (
        <Popover
          role="dialog"
          aria-label="Sounds"
          position="absolute"
          bottom="32px"
          left="0"
          width="300px"
          zIndex="20"
          fontSize="13px"
        >
          <Box as="ul" maxH="240px" overflowY="auto" listStyleType="none">
            {(sounds.data ?? []).map((sound) => (
              <ListRow
                key={sound.file}
                title="Lay it under the shots, from the play head on"
                onClick={() => {
                  layUnder(sound);
                  setOpen(false);
                }}
                removal={`Delete ${sound.title}`}
                removalHint="Delete it from the project; it can be brought back"
                onRemove={async () => {
                  if (await deleteSound(sound)) setDeleted(sound);
                }}
              >
                <Box as="span" truncate>
                  {sound.title}
                </Box>
                <Box as="span" color="mute" ml="auto">
                  {sound.seconds.toFixed(1)} s
                </Box>
              </ListRow>
            ))}
          </Box>
          {sounds.data?.length === 0 && <Box color="mute">No sound is in the project.</Box>}
          {deleted && (
            <DeletedRow
              name={deleted.title}
              onRestore={async () => {
                if (await restoreSound(deleted)) setDeleted(null);
              }}
            />
          )}
          <Button small type="button" mt="8px" onClick={() => picker.current?.click()}>
            A file…
          </Button>
        </Popover>
      )}
      <input
        ref={picker}
        type="file"
        hidden
        accept="audio/*"
        aria-label="A file of sound"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) void bringSound(file);
          event.target.value = "";
          setOpen(false);
        }}
      />
    </Box>
  );
}

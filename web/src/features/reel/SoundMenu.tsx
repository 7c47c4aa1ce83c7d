import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
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
              <Flex as="li" key={sound.file} align="center">
                <Button
                  tone="bare"
                  type="button"
                  flex="1"
                  minW="0"
                  justifyContent="flex-start"
                  title="Lay it under the shots, from the play head on"
                  onClick={() => {
                    layUnder(sound);
                    setOpen(false);
                  }}
                >
                  <Box as="span" truncate>
                    {sound.title}
                  </Box>
                  <Box as="span" color="mute" ml="auto">
                    {sound.seconds.toFixed(1)} s
                  </Box>
                </Button>
                <Button
                  tone="bare"
                  small
                  type="button"
                  aria-label={`Delete ${sound.title}`}
                  title="Delete it from the project; it can be brought back"
                  onClick={async () => {
                    if (await deleteSound(sound)) setDeleted(sound);
                  }}
                >
                  <Trash2 size={14} />
                </Button>
              </Flex>
            ))}
          </Box>
          {sounds.data?.length === 0 && <Box color="mute">No sound is in the project.</Box>}
          {deleted && (
            <Flex align="center" justify="space-between" fontSize="12px" mt="4px">
              {deleted.title} is deleted.
              <Button
                small
                type="button"
                onClick={async () => {
                  if (await restoreSound(deleted)) setDeleted(null);
                }}
              >
                Bring it back
              </Button>
            </Flex>
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

import { Box, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, unwrap } from "../../api/client";
import { useBench } from "../../store/bench";
import { edit, openLook, saveAs, takeLook } from "../../store/edits";
import { importFiles } from "../../store/importFiles";
import { Button } from "../../ui/Button";
import { Baked } from "./Baked";
import { showStarters } from "./Starters";

const Entry = chakra("input");

const EMPTY = JSON.stringify({ format: "yearning-look/1", name: "New look", steps: [] });

/** The look's name, and a sheet to rename, open, begin, keep a copy, or take it out as a file. */
export function LookMenu() {
  const look = useBench((s) => s.look);
  const lookId = useBench((s) => s.lookId);
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const sheet = useRef<HTMLDivElement>(null);
  const picker = useRef<HTMLInputElement>(null);
  const looks = useQuery({
    queryKey: ["looks", open, lookId],
    queryFn: () => unwrap(api.GET("/api/looks")),
    enabled: open,
  });

  useEffect(() => {
    if (!open) return;
    setName(look?.name ?? "");
    const outside = (event: PointerEvent) => {
      if (!sheet.current?.contains(event.target as Node)) setOpen(false);
    };
    document.addEventListener("pointerdown", outside);
    return () => document.removeEventListener("pointerdown", outside);
  }, [open, look?.name]);

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
        onClick={() => setOpen(!open)}
        maxW="210px"
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
          width="320px"
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
            <Entry
              aria-label="Name of the look"
              autoFocus
              flex="1"
              minW="0"
              height="30px"
              px="8px"
              bg="sheet"
              borderWidth="1px"
              borderColor="line"
              borderRadius="5px"
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
          <Box
            as="ul"
            mt="10px"
            maxH="210px"
            overflowY="auto"
            borderTopWidth="1px"
            borderColor="line"
            pt="6px"
            listStyleType="none"
          >
            {looks.data?.map((l) => (
              <li key={l.id}>
                <Button
                  tone="bare"
                  type="button"
                  width="100%"
                  justifyContent="space-between"
                  fontWeight={l.id === lookId ? 700 : 400}
                  aria-current={l.id === lookId}
                  onClick={() => {
                    void openLook(l.id);
                    setOpen(false);
                  }}
                >
                  <span>{l.name}</span>
                  <Box as="span" color="mute" fontWeight="400">
                    {(l.look.steps as unknown[]).length} steps
                  </Box>
                </Button>
              </li>
            ))}
          </Box>
          <Flex gap="6px" mt="8px" wrap="wrap">
            <Button
              small
              type="button"
              onClick={() => {
                void takeLook(EMPTY);
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
            <Button small type="button" onClick={() => picker.current?.click()}>
              Open a look file…
            </Button>
            <Button small asChild>
              <a href={`/api/looks/${lookId}/file`} download>
                Save as file
              </a>
            </Button>
          </Flex>
          <Baked />
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

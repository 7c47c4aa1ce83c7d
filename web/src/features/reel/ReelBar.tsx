import { Box, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useRef } from "react";
import type { LookState, Reel } from "../../api/client";
import { listReels } from "../../api/lists";
import { lengthOf } from "../../model/reel";
import { timecode } from "../../model/timecode";
import { countWords } from "../../model/words";
import { useBench } from "../../store/bench";
import { deleteReel, editReel, newReel, openReel, restoreReel, useReel } from "../../store/reel";
import { measureReel } from "../../store/reelMeasuring";
import { Button } from "../../ui/Button";
import { NameField } from "./NameField";
import { RenderReel } from "./RenderReel";
import { TimelineInput } from "./TimelineInput";

const Select = chakra("select");

/** Which reel is open, what it is called, and how it goes out. */
export function ReelBar({ reel, looks }: { reel: Reel | null; looks: LookState[] }) {
  const reels = useQuery({ queryKey: ["reels"], queryFn: listReels });
  const deleted = useReel((s) => s.deleted);
  const clip = useBench((s) => s.clip);
  const readOnly = useBench((s) => s.readOnly);
  const picker = useRef<HTMLInputElement>(null);
  if (!reel && !deleted) return null;
  return (
    <Flex align="center" gap="8px" bg="desk" px="12px" py="6px" flex="none">
      {reel && (
        <>
          <Select
            aria-label="Reel"
            value={reel.id}
            height="30px"
            width="120px"
            px="8px"
            bg="sheet"
            borderWidth="1px"
            borderColor="line"
            borderRadius="6px"
            fontSize="13px"
            onChange={({ target }) => {
              if (target.value === "new") return void newReel(clip);
              if (target.value === "read") return picker.current?.click();
              const found = reels.data?.find((each) => each.id === Number(target.value));
              if (found) openReel(found);
            }}
          >
            {[...(reels.data ?? [reel])]
              .sort((a, b) => a.id - b.id)
              .map((each) => (
                <option key={each.id} value={each.id}>
                  {each.name}
                </option>
              ))}
            <option value="new" disabled={readOnly}>
              Begin a reel
            </option>
            <option value="read" disabled={readOnly}>
              Read a timeline…
            </option>
          </Select>
          <NameField
            key={reel.id}
            label="Name of the reel"
            name={reel.name}
            maxLength={120}
            onNamed={(name) => editReel(`the name ${name}`, (items) => items, name)}
          />
          <Button
            small
            tone="bare"
            type="button"
            aria-label={`Delete ${reel.name}`}
            title="Delete this reel; its clips and looks stay"
            disabled={readOnly}
            onClick={() => void deleteReel(reel)}
          >
            <Trash2 size={14} />
          </Button>
          <Box color="mute" truncate>
            {summary(reel)}
          </Box>
        </>
      )}
      {deleted && (
        <Button small type="button" onClick={() => void restoreReel()}>
          Bring back {deleted.name}
        </Button>
      )}
      <Box flex="1" />
      {reel && reel.items.length > 0 && (
        <Button
          type="button"
          title="Steadiness of each shot, and flashes, also those that cuts make"
          onClick={() => void measureReel(reel)}
        >
          Measure
        </Button>
      )}
      {reel && reel.items.length > 0 && <RenderReel reel={reel} looks={looks} />}
      <TimelineInput ref={picker} label="Another timeline to read" />
    </Flex>
  );
}

/** How many shots it has, how long they are, at which rate. */
function summary({ items, rate }: Reel) {
  const second = rate.numerator / rate.denominator;
  const shots = items.filter((item) => item.kind === "shot").length;
  const length = timecode(lengthOf(items), second);
  return `${countWords(shots, "shot")} · ${length} · ${Number(second.toFixed(3))} fps`;
}

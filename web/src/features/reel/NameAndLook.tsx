import { chakra, Flex } from "@chakra-ui/react";
import { Volume2, VolumeX } from "lucide-react";
import type { LookState, Reel } from "../../api/client";
import { itemAt, placeItems } from "../../model/reel";
import { countWords } from "../../model/words";
import { useBench } from "../../store/bench";
import { useReel } from "../../store/reel";
import { giveLook, keepFitting, nameShot } from "../../store/reelEdits";
import { hearShots } from "../../store/reelSounds";
import { Button } from "../../ui/Button";
import { NameField } from "./NameField";

const Select = chakra("select");

/** The name and the look of the chosen shots, or of the one at the play head. */
export function NameAndLook({ reel, looks }: { reel: Reel; looks: LookState[] }) {
  const all = placeItems(reel.items);
  const here = useReel((s) => itemAt(all, s.frame)?.item);
  const chosen = useReel((s) => s.chosen);
  const readOnly = useBench((s) => s.readOnly);
  const shots = reel.items.flatMap((item) =>
    item.kind === "shot" && (chosen.size ? chosen.has(item.id) : item.id === here?.id)
      ? [item]
      : [],
  );
  if (!shots.length) return null;
  const theirs = new Set(shots.map(({ look }) => look ?? null));
  const [only] = theirs;
  const value = theirs.size > 1 ? "several" : only === null || only === undefined ? "" : `${only}`;
  const fits = shots.some(({ clip, look }) => {
    const own = looks.find(({ id }) => id === look)?.fittings[`${clip}`];
    return own !== undefined;
  });
  const kept = shots.every(({ fitting }) => fitting);
  const [shot] = shots;
  const heard = shots.some((each) => each.heard);
  return (
    <Flex align="center" gap="6px">
      {shots.length === 1 && shot && (
        <NameField
          key={shot.id}
          label="Name of the shot"
          name={shot.name}
          maxLength={200}
          small
          onNamed={(name) => nameShot(shot.id, name)}
        />
      )}
      {shots.length > 1 ? `Look of ${countWords(shots.length, "shot")}` : "Look"}
      <Select
        aria-label="Look of the chosen shots"
        value={value}
        disabled={readOnly}
        height="26px"
        width="140px"
        px="6px"
        bg="sheet"
        borderWidth="1px"
        borderColor="line"
        borderRadius="6px"
        fontSize="12px"
        onChange={({ target }) =>
          giveLook(looks.find(({ id }) => `${id}` === target.value) ?? null)
        }
      >
        {value === "several" && <option value="several">several</option>}
        <option value="">none, as shot</option>
        {looks.map((look) => (
          <option key={look.id} value={look.id}>
            {look.name}
          </option>
        ))}
      </Select>
      <Button
        small
        type="button"
        disabled={readOnly}
        aria-pressed={heard}
        aria-label="Hear the shots' own sound"
        title={heard ? "Leave out the shots' own sound" : "Hear the shots' own sound again"}
        onClick={() => hearShots(!heard)}
      >
        {heard ? <Volume2 size={13} /> : <VolumeX size={13} />}
      </Button>
      {(fits || kept) && (
        <Button
          small
          type="button"
          disabled={readOnly || !fits}
          aria-pressed={kept}
          title="What the look has for this clip alone is kept as these shots' own, whatever the clip has later"
          onClick={() => keepFitting(looks)}
        >
          {kept ? "Fitted" : "Save for this shot"}
        </Button>
      )}
    </Flex>
  );
}

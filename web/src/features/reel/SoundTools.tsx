import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import type { Reel, ReelSound, Sound } from "../../api/client";
import { changedSound } from "../../model/reelSounds";
import { useClips } from "../../store/clips";
import { editSounds, useReel } from "../../store/reel";
import { soundsQuery, takeSoundOut } from "../../store/reelSounds";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { NameField } from "./NameField";
import { SoundMenu } from "./SoundMenu";

/** The sound that is worked on, and what can be laid under the shots. */
export function SoundTools({ reel }: { reel: Reel }) {
  const chosen = useReel((s) => s.sound);
  const sounds = useQuery(soundsQuery);
  const sound = reel.sounds.find(({ id }) => id === chosen);
  return (
    <Flex align="center" gap="6px" wrap="wrap" fontSize="12px">
      <SoundMenu />
      {sound && <Worked key={sound.id} reel={reel} sound={sound} sounds={sounds.data ?? []} />}
    </Flex>
  );
}

interface WorkedProps {
  reel: Reel;
  sound: ReelSound;
  sounds: Sound[];
}

/** Frames and seconds that can be typed. */
const FAR = 1_000_000;

/** Where a sound begins, what of its file is heard, and how loud it is. */
function Worked({ reel, sound, sounds }: WorkedProps) {
  const clip = (useClips().data ?? []).find(({ id }) => id === sound.clip);
  const rate = reel.rate.numerator / reel.rate.denominator;
  const file = sounds.find((each) => each.file === sound.file);
  const seconds = file?.seconds ?? (clip ? clip.frames / clip.rate : Number.POSITIVE_INFINITY);
  const change = (words: string, to: Partial<ReelSound>) =>
    editSounds(`${words} of ${sound.name}`, (all) =>
      all.map((each) => (each.id === sound.id ? changedSound(each, to, seconds, rate) : each)),
    );
  return (
    <>
      <NameField
        label="Name of the sound"
        name={sound.name}
        maxLength={200}
        small
        onNamed={(name) => change("the name", { name })}
      />
      <Box as="span">at frame</Box>
      <NumberField
        label="Frame of the reel it begins at"
        value={sound.at}
        minimum={0}
        maximum={FAR}
        onEnter={(at) => change("the beginning", { at })}
      />
      <Box as="span">from second</Box>
      <NumberField
        label="Second of its file it begins at"
        value={sound.start}
        minimum={0}
        maximum={Math.min(seconds, FAR)}
        digits={2}
        onEnter={(start) => change("the part", { start })}
      />
      <Box as="span">for frames</Box>
      <NumberField
        label="Frames it is heard"
        value={sound.frames}
        minimum={1}
        maximum={FAR}
        onEnter={(frames) => change("the length", { frames })}
      />
      <Box as="span">level, dB</Box>
      <NumberField
        label="Level in dB"
        value={sound.level}
        minimum={-60}
        maximum={0}
        digits={1}
        onEnter={(level) => change("the level", { level })}
      />
      <Button
        small
        type="button"
        tone="bare"
        disabled={reel.sounds.length === 0}
        aria-label={`Remove ${sound.name}`}
        title="Remove it from under the shots; it stays in the project"
        onClick={() => takeSoundOut(sound.id)}
      >
        <Trash2 size={13} />
      </Button>
    </>
  );
}

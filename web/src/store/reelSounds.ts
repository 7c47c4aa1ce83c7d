import {
  api,
  type Clip,
  type ReelSound,
  readClipSoundLevels,
  readSoundLevels,
  type Sound,
  sendSound,
} from "../api/client";
import { listSounds } from "../api/lists";
import { queryClient } from "../api/queries";
import { lengthOf } from "../model/reel";
import { arriving } from "./arrivals";
import { changesFiles } from "./changingFiles";
import { notice } from "./notices";
import { editReel, editSounds, newItemId, reelKept, reelState, useReel } from "./reel";
import { chosenShots } from "./reelEdits";

/** What an editor does with sounds under the shots. */

export const soundsQuery = { queryKey: ["sounds"], queryFn: listSounds };

/** How loud a sound is; of a clip's, as the clip is read. None while its media is missing. */
export const levelsQuery = ({ file, clip }: ReelSound, reading?: Clip["reading"]) => ({
  queryKey: ["levels", file, clip, reading],
  queryFn: () => {
    if (file) return readSoundLevels(file);
    return clip == null ? null : readClipSoundLevels(clip);
  },
  staleTime: Number.POSITIVE_INFINITY,
});

/** Bring a file of sound in; it is laid under the open reel's shots. */
export async function bringSound(file: File) {
  const sound = await arriving(file.name, "Bringing in", (onProgress, signal) =>
    sendSound(file, { onProgress, signal }),
  );
  if (!sound) return;
  await queryClient.invalidateQueries({ queryKey: ["sounds"] });
  const missing = reelState().reel?.sounds.some((each) => !each.file && each.clip == null);
  if (missing) return; // it may be what a timeline names: that is looked for since it has come
  if (reelState().reel?.items.length) layUnder(sound);
  else
    notice(
      "reel",
      `${sound.title} is in the project: put shots into a reel, then lay it under them.`,
    );
}

/** Lay a sound under the shots, from the play head on, as long as it and the reel are. */
export function layUnder(sound: Sound) {
  const { reel, frame } = reelState();
  if (!reel?.items.length) return;
  const rate = reel.rate.numerator / reel.rate.denominator;
  const at = frame >= lengthOf(reel.items) - 1 ? 0 : frame;
  const frames = Math.min(Math.round(sound.seconds * rate), lengthOf(reel.items) - at);
  const id = newItemId();
  const laid = { id, name: sound.title, file: sound.file, clip: null, at, start: 0, level: 0 };
  editSounds(`${sound.title} under the shots`, (sounds) => [
    ...sounds,
    { ...laid, frames: Math.max(1, frames), item: null },
  ]);
  useReel.setState({ sound: id });
}

/** Delete a file of sound from the project; whether it is deleted. */
export const deleteSound = ({ file }: Sound) =>
  changesFiles("sounds", "reel", async () => {
    await reelKept(); // it may have been taken out of the reel just now
    return api.DELETE("/api/v1/sounds/{file}", { params: { path: { file } } });
  });

/** Bring back one that was deleted; whether it is back. */
export const restoreSound = ({ file }: Sound) =>
  changesFiles("sounds", "reel", () =>
    api.POST("/api/v1/sounds/{file}/restore", { params: { path: { file } } }),
  );

export function takeSoundOut(id: string) {
  const name = reelState().reel?.sounds.find((each) => each.id === id)?.name ?? "a sound";
  editSounds(`removing ${name}`, (sounds) => sounds.filter((each) => each.id !== id));
  useReel.setState({ sound: null });
}

/** Have the chosen shots' own sound be heard, or not. */
export function hearShots(heard: boolean) {
  const ids = chosenShots();
  editReel(heard ? "hearing the shots" : "not hearing the shots", (items) =>
    items.map((item) => (item.kind === "shot" && ids.has(item.id) ? { ...item, heard } : item)),
  );
}

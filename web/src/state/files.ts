import { create } from "zustand";
import { sendClip } from "../api/client";
import { bench, notice, put } from "./bench";
import { takeLook } from "./edits";
import { pause } from "./play";

/** Files on their way in, with the part that has gone. */
export const useArriving = create<{ arriving: { name: string; part: number }[]; come: number }>(
  () => ({ arriving: [], come: 0 }),
);

const LARGEST_LOOK = 4 << 20;

/** Take in dropped or picked files by what they are: looks, else clips. */
export async function bringIn(files: File[]) {
  for (const file of files) {
    if (/\.json$/i.test(file.name)) await bringLook(file);
    else await bringClip(file);
  }
}

async function bringLook(file: File) {
  try {
    if (file.size > LARGEST_LOOK) throw new Error("not a look file: it is larger than 4 MB");
    await takeLook(await file.text());
  } catch (error) {
    notice("look", `${file.name}: ${error instanceof Error ? error.message : error}`);
  }
}

async function bringClip(file: File) {
  const told = (part: number) =>
    useArriving.setState(({ arriving }) => ({
      arriving: [...arriving.filter((a) => a.name !== file.name), { name: file.name, part }],
    }));
  told(0);
  try {
    const clip = await sendClip(file, told);
    useArriving.setState(({ come }) => ({ come: come + 1 }));
    pause();
    put({ clip, frame: Math.min(bench().frame, clip.frames - 1) });
  } catch (error) {
    notice("clips", error);
  } finally {
    useArriving.setState(({ arriving }) => ({
      arriving: arriving.filter((a) => a.name !== file.name),
    }));
  }
}

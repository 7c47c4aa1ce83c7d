import { create } from "zustand";
import { sendClip, sendGrade, sendPlate, sendTable } from "../api/client";
import { settingsOfGrade } from "../model/grades";
import { findStep } from "../model/lookTree";
import { packed, shotsOf } from "../model/stillSequences";
import { bench } from "./bench";
import { chooseClip } from "./clips";
import { addStep, changeStep } from "./edits";
import { takeLook } from "./looks";
import { notice } from "./notices";

/** Files on their way in, with the part that has gone. */
export const useArriving = create<{ arriving: { name: string; part: number }[]; come: number }>(
  () => ({ arriving: [], come: 0 }),
);

const LARGEST_LOOK = 4 << 20;

/** Take in dropped or picked files by what they are: looks, tables, grades, numbered
 * stills as one clip, plates, clips. */
export async function importFiles(files: File[], as: "what they are" | "plate" = "what they are") {
  const { shots, rest } = shotsOf(files);
  for (const file of rest) {
    if (as === "plate" || isPlate(file)) {
      await bringPlate(file);
      continue;
    }
    if (/\.json$/i.test(file.name)) await bringLook(file);
    else if (/\.(cube|clf)$/i.test(file.name)) await bringTable(file);
    else if (/\.(cc|ccc|cdl)$/i.test(file.name)) await bringGrade(file);
    else await bringClip(file.name, file);
  }
  for (const { name, stills } of shots) await bringClip(name, packed(stills));
}

async function bringLook(file: File) {
  try {
    if (file.size > LARGEST_LOOK) throw new Error("not a look file: it is larger than 4 MB");
    await takeLook(await file.text());
  } catch (error) {
    notice("look", `${file.name}: ${error instanceof Error ? error.message : error}`);
  }
}

const treatment = (kind: string) => bench().catalogue?.treatments.find((t) => t.kind === kind);

/** Have the open step of a treatment use a file if it has none yet; else a new step does. */
function giveFile(kind: string, file: string) {
  const { look, open } = bench();
  const step = findStep(look?.steps ?? [], open);
  const made = treatment(kind);
  if (step?.treatment === kind && !step.settings.file)
    changeStep(step.id, (s) => ({ ...s, settings: { ...s.settings, file } }));
  else if (made) addStep(made, { file });
}

/** A table goes into the open table step that has none, or into a new one. */
async function bringTable(file: File) {
  try {
    const { file: name } = await sendTable(file);
    useArriving.setState(({ come }) => ({ come: come + 1 }));
    giveFile("table", name);
  } catch (error) {
    notice("look", error);
  }
}

/** A single picture is a plate, and so is a clip that is dropped on an open plate step. */
function isPlate(file: File): boolean {
  const step = findStep(bench().look?.steps ?? [], bench().open);
  const clip = /\.(mp4|mov|mkv|webm|avi|mxf|m4v)$/i.test(file.name);
  return /\.(png|jpe?g|tiff?)$/i.test(file.name) || (step?.treatment === "plate" && clip);
}

/** A plate goes into the open plate step that has none, or into a new one. */
async function bringPlate(file: File) {
  try {
    const { file: name } = await sendPlate(file);
    useArriving.setState(({ come }) => ({ come: come + 1 }));
    giveFile("plate", name);
  } catch (error) {
    notice("look", error);
  }
}

/** A grade goes into a new balance step. */
async function bringGrade(file: File) {
  try {
    const settings = settingsOfGrade(await sendGrade(file));
    const balance = treatment("balance");
    if (balance) addStep(balance, settings);
  } catch (error) {
    notice("look", error);
  }
}

async function bringClip(name: string, file: Blob) {
  const report = (part: number) =>
    useArriving.setState(({ arriving }) => ({
      arriving: [...arriving.filter((a) => a.name !== name), { name, part }],
    }));
  report(0);
  try {
    const clip = await sendClip(name, file, report);
    useArriving.setState(({ come }) => ({ come: come + 1 }));
    chooseClip(clip);
  } catch (error) {
    notice("clips", error);
  } finally {
    useArriving.setState(({ arriving }) => ({
      arriving: arriving.filter((a) => a.name !== name),
    }));
  }
}

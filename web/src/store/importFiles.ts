import { sendClip, sendGrade, sendGrain, sendPlate, sendTable, sendTrack } from "../api/client";
import { queryClient } from "../api/queries";
import { settingsOfGrade } from "../model/grades";
import { findStep } from "../model/lookTree";
import { packStills, shotsOf } from "../model/stillSequences";
import { arriving, askStillsKind, treatmentOfKind } from "./arrivals";
import { bench } from "./bench";
import { chooseClip } from "./clips";
import { addStep, changeStep } from "./edits";
import { takeFitting } from "./fittings";
import { takeLook } from "./looks";
import { notice } from "./notices";
import { bringTimeline } from "./reel";
import { bringSound } from "./reelSounds";

const LARGEST_LOOK = 4 << 20;

const COMES_IN = "Bringing in";

const SOUND = /\.(wav|flac|mp3|m4a|aac|og[ga]|opus|aiff?)$/i;

const isPicture = (file: File) => /\.(png|jpe?g|tiff?)$/i.test(file.name);

/** Take in dropped or picked files by what they are: looks, tables, grades, plates, clips. Several
 * stills are one numbered clip or as many plates: that is asked. */
export async function importFiles(files: File[], as: "what they are" | "plate" = "what they are") {
  if (as === "plate") return bringPlates(files);
  const { shots, rest } = shotsOf(files);
  const pictures = rest.filter(isPicture);
  const others = rest.filter((file) => !pictures.includes(file) && !isPlateClip(file));
  const plates = rest.filter(isPlateClip);
  if (pictures.length > 1) void decide(null, pictures);
  else plates.push(...pictures);
  for (const { name, stills } of shots) void decide(name, stills);
  await bringPlates(plates);
  for (const file of others) {
    if (await isTrack(file)) await bringTrack(file);
    else if (/\.json$/i.test(file.name)) await bringLook(file);
    else if (/\.(cube|clf)$/i.test(file.name)) await bringTable(file);
    else if (/\.(otio|edl)$/i.test(file.name)) await bringTimeline(file);
    else if (SOUND.test(file.name)) await bringSound(file);
    else if (/\.grain$/i.test(file.name)) await bringGrain(file);
    else if (/\.(cc|ccc|cdl)$/i.test(file.name)) await bringGrade(file);
    else await bringClip(file.name, file);
  }
}

/** Bring stills in as is answered. */
async function decide(name: string | null, stills: File[]) {
  const exr = stills.every((file) => /\.exr$/i.test(file.name));
  const as = exr && name ? "clip" : await askStillsKind(name, stills);
  if (as === "clip" && name) await bringClip(name, packStills(stills));
  else if (as === "plates") await bringPlates(stills);
}

const bringLook = (file: File) =>
  arriving(file.name, COMES_IN, async () => {
    if (file.size > LARGEST_LOOK) throw new Error("not a look file: it is larger than 4 MB");
    const text = await file.text();
    await (isFitting(text) ? takeFitting(text) : takeLook(text));
  });

const isFitting = (text: string) => /"format"\s*:\s*"yearning-fitting\//.test(text);

/** A track says what it is at its beginning, as Yearning writes it. */
const isTrack = async (file: File) =>
  /\.json$/i.test(file.name) &&
  /"format"\s*:\s*"yearning-track\//.test(await file.slice(0, 4096).text());

async function bringTrack(file: File) {
  const track = await arriving(file.name, COMES_IN, (onProgress, signal) =>
    sendTrack(file, { onProgress, signal }),
  );
  if (!track) return;
  await queryClient.invalidateQueries({ queryKey: ["tracks"] });
  const clip = track.clip === bench().clip?.id ? "" : ", of another clip";
  notice("look", `The track of ${track.title}${clip} is here: shapes can ride on it.`);
}

/** Have the open step of a treatment use a file if it has none yet; else a new step does. */
function giveFile(kind: string, file: string) {
  give(kind, "file", { file });
}

/** Give the open step of a treatment its settings if it has not the one of a name; else a new one. */
function give(kind: string, name: string, settings: Record<string, string>) {
  const { look, open } = bench();
  const step = findStep(look?.steps ?? [], open);
  const made = treatmentOfKind(kind);
  if (step?.treatment === kind && !step.settings[name])
    changeStep(step.id, (s) => ({ ...s, settings: { ...s.settings, ...settings } }));
  else if (made) addStep(made, settings);
}

/** Measured grain goes into the open grain step that has none, or into a new one. */
async function bringGrain(file: File) {
  const grain = await arriving(file.name, COMES_IN, (onProgress, signal) =>
    sendGrain(file, { onProgress, signal }),
  );
  if (grain) give("grain", "scan", { gauge: "scan", scan: grain.file });
}

/** A table goes into the open table step that has none, or into a new one. */
async function bringTable(file: File) {
  const table = await arriving(file.name, COMES_IN, (onProgress, signal) =>
    sendTable(file, { onProgress, signal }),
  );
  if (table) giveFile("table", table.file);
}

/** A clip that is dropped while a plate step without a plate is open is meant for it. */
function isPlateClip(file: File): boolean {
  const step = findStep(bench().look?.steps ?? [], bench().open);
  const clip = /\.(mp4|mov|mkv|webm|avi|mxf|m4v)$/i.test(file.name);
  return clip && step?.treatment === "plate";
}

/** One plate goes into the open plate step that has none, or into a new one; of several the first
 * does that has an open step waiting for it, and the others are there to be chosen. */
async function bringPlates(files: File[]) {
  const step = findStep(bench().look?.steps ?? [], bench().open);
  const waits = step?.treatment === "plate" && !step.settings.file;
  let given = false;
  for (const file of files) {
    const plate = await arriving(file.name, COMES_IN, (onProgress, signal) =>
      sendPlate(file, { onProgress, signal }),
    );
    if (plate && !given && (waits || files.length === 1)) {
      giveFile("plate", plate.file);
      given = true;
    }
  }
}

/** A grade goes into a new balance step. */
async function bringGrade(file: File) {
  const grade = await arriving(file.name, COMES_IN, (onProgress, signal) =>
    sendGrade(file, { onProgress, signal }),
  );
  const balance = treatmentOfKind("balance");
  if (grade && balance) addStep(balance, settingsOfGrade(grade));
}

async function bringClip(name: string, file: Blob) {
  const clip = await arriving(name, COMES_IN, (onProgress, signal) =>
    sendClip(name, file, { onProgress, signal }),
  );
  if (clip) chooseClip(clip);
}

import { useQueries } from "@tanstack/react-query";
import { api } from "../api/client";
import { listGrains, listPlates, listTables, listTracks } from "../api/lists";
import { changesFiles } from "./changingFiles";
import { inTurn } from "./edits";
import { reelKept } from "./reel";

/** Files that looks name: listed by kind, deleted, and brought back. */

const LISTS = [
  { kind: "plates", word: "plate", list: listPlates },
  { kind: "tables", word: "table", list: listTables },
  { kind: "tracks", word: "track", list: listTracks },
  { kind: "grains", word: "grain", list: listGrains },
] as const;

export interface ProjectFile {
  kind: (typeof LISTS)[number]["kind"];
  /** What it is, for the user. */
  word: string;
  file: string;
  title: string;
}

/** All of them, by kind and title; empty until they are known. */
export const useProjectFiles = (): ProjectFile[] =>
  useQueries({
    queries: LISTS.map(({ kind, list }) => ({
      queryKey: [kind],
      queryFn: (): Promise<{ file: string; title: string }[]> => list(),
    })),
    combine: (found) =>
      LISTS.flatMap(({ kind, word }, i) =>
        (found[i]?.data ?? []).map(({ file, title }) => ({ kind, word, file, title })),
      ),
  });

/** Delete a file from the project; whether it is deleted. A refusal is told. */
export const deleteFile = ({ kind, file }: ProjectFile) =>
  changesFiles(kind, "footage", async () => {
    await Promise.all([inTurn(async () => {}), reelKept()]); // it may have been taken out just now
    return api.DELETE(`/api/v1/${kind}/{file}`, { params: { path: { file } } });
  });

/** Bring back one that was deleted; whether it is back. */
export const restoreFile = ({ kind, file }: ProjectFile) =>
  changesFiles(kind, "footage", () =>
    api.POST(`/api/v1/${kind}/{file}/restore`, { params: { path: { file } } }),
  );

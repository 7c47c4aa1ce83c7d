import { api, unwrap } from "../api/client";
import { bench, setState, useBench } from "./bench";
import { edit } from "./edits";
import { notice } from "./notices";
import { AS_SHOT } from "./slices/compare";

/** States of the look that are kept: to compare with, and to go back to. */

export async function keepSnapshot() {
  const { look, snapshots } = bench();
  if (!look) return;
  const id = `snapshot-${crypto.randomUUID().slice(0, 8)}`;
  let n = snapshots.length + 1;
  while (snapshots.some((s) => s.name === `Snapshot ${n}`)) n += 1;
  await keep([...snapshots, { id, name: `Snapshot ${n}`, look }]);
}

export async function dropSnapshot(id: string) {
  if (bench().base === id) setState({ base: AS_SHOT });
  await keep(bench().snapshots.filter((s) => s.id !== id));
}

/** Have the look be as the snapshot: one change, undone by one Undo. */
export function goBackTo(id: string) {
  const kept = bench().snapshots.find((s) => s.id === id);
  if (kept) edit((look) => ({ ...kept.look, name: look.name }));
}

async function keep(snapshots: ReturnType<typeof bench>["snapshots"]) {
  const { lookId } = bench();
  if (lookId === null) return;
  const params = { path: { look_id: lookId } };
  try {
    await unwrap(api.PUT("/api/looks/{look_id}/snapshots", { params, body: snapshots as never }));
    setState({ snapshots });
  } catch (error) {
    notice("look", error);
  }
}

/** Another look opened, its snapshots are those shown. */
export function startSnapshots() {
  useBench.subscribe(({ lookId }, before) => {
    if (lookId !== before.lookId) void load(lookId);
  });
}

async function load(lookId: number | null) {
  setState({ snapshots: [] });
  if (lookId === null) return;
  const params = { path: { look_id: lookId } };
  try {
    const kept = await unwrap(api.GET("/api/looks/{look_id}/snapshots", { params }));
    if (bench().lookId === lookId) setState({ snapshots: kept as never });
  } catch (error) {
    notice("look", error);
  }
}

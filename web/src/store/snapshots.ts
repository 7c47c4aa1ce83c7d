import { api, unwrap } from "../api/client";
import { bench, setState, useBench } from "./bench";
import { edit } from "./edits";
import { notice } from "./notices";
import { FOOTAGE } from "./slices/compare";

/** States of the look that are kept: to compare with, and to go back to. */

export async function keepSnapshot() {
  const { look, lookId, snapshots } = bench();
  if (!look || lookId === null) return;
  const id = `snapshot-${crypto.randomUUID().slice(0, 8)}`;
  let n = snapshots.length + 1;
  while (snapshots.some((s) => s.name === `Snapshot ${n}`)) n += 1;
  const kept = { name: `Snapshot ${n}`, look };
  const params = { path: { look_id: lookId, snapshot_id: id } };
  await shownWhenKept(lookId, () =>
    unwrap(api.PUT("/api/v1/looks/{look_id}/snapshots/{snapshot_id}", { params, body: kept })),
  );
}

export async function dropSnapshot(id: string) {
  const { base, lookId } = bench();
  if (base === id) setState({ base: FOOTAGE });
  if (lookId === null) return;
  const params = { path: { look_id: lookId, snapshot_id: id } };
  await shownWhenKept(lookId, () =>
    unwrap(api.DELETE("/api/v1/looks/{look_id}/snapshots/{snapshot_id}", { params })),
  );
}

/** Have the look be as the snapshot: one change, undone by one Undo. */
export function goBackTo(id: string) {
  const kept = bench().snapshots.find((s) => s.id === id);
  if (kept) edit((look) => ({ ...kept.look, name: look.name }));
}

/** Change the snapshots on the server, then show those it has: another page may have kept some. */
async function shownWhenKept(lookId: number, change: () => Promise<unknown>) {
  try {
    await change();
    await load(lookId);
  } catch (error) {
    notice("look", error);
  }
}

/** Another look opened, its snapshots are those shown. */
export function startSnapshots() {
  useBench.subscribe(({ lookId }, before) => {
    if (lookId === before.lookId) return;
    setState({ snapshots: [] });
    if (lookId !== null) void load(lookId).catch((error) => notice("look", error));
  });
}

async function load(lookId: number) {
  const params = { path: { look_id: lookId } };
  const kept = await unwrap(api.GET("/api/v1/looks/{look_id}/snapshots", { params }));
  if (bench().lookId === lookId) setState({ snapshots: kept });
}

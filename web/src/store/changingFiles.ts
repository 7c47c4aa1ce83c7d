import { unwrap } from "../api/client";
import { queryClient } from "../api/queries";
import { notice } from "./notices";

/**
 * Change the project's files of a kind, and list them anew; whether it is done. A refusal is told
 * at a place.
 */
export async function changesFiles(
  kind: string,
  where: Parameters<typeof notice>[0],
  ask: () => Parameters<typeof unwrap>[0],
): Promise<boolean> {
  try {
    await unwrap(ask());
    await queryClient.invalidateQueries({ queryKey: [kind] });
    return true;
  } catch (error) {
    notice(where, error);
    return false;
  }
}

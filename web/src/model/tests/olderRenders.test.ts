import { describe, expect, it } from "vitest";
import type { LookState, Render } from "../../api/client";
import { isOlder, olderThanTheirLooks } from "../olderRenders";

const look = (id: number, digest: string) => ({ id, digest, digests: {} }) as unknown as LookState;

const render = (id: number, look_digest: string, more: Partial<Render> = {}) =>
  ({
    id,
    clip: 1,
    look_id: 7,
    look_digest,
    first: 0,
    total: 96,
    summary: "H.264 fine",
    state: "done",
    ...more,
  }) as Render;

describe("renders that are older than their looks", () => {
  it("are those of steps that the look no longer has", () => {
    expect(isOlder(render(1, "a"), look(7, "b"))).toBe(true);
    expect(isOlder(render(1, "a"), look(7, "a"))).toBe(false);
    expect(isOlder(render(1, "a"), undefined)).toBe(false); // its look is gone
  });

  it("count once a clip, look, range and kind, and not where a newer one has the look", () => {
    const looks = [look(7, "new"), look(8, "same")];
    const renders = [
      render(1, "old"),
      render(2, "older"), // a second of the same
      render(3, "old", { first: 10, total: 20 }),
      render(4, "old", { clip: 2 }),
      render(5, "new", { clip: 2 }), // rendered anew since
      render(6, "same", { look_id: 8 }),
      render(7, "old", { clip: 3, state: "stopped" }),
      render(8, "old", { clip: 4, look_id: null }),
    ];
    expect(olderThanTheirLooks(renders, looks).map((r) => r.id)).toEqual([2, 3]);
  });
});

import { describe, expect, it } from "vitest";
import type { Entry } from "../../api/client";
import {
  dropLast,
  EMPTY,
  lastDone,
  lastUndone,
  recordEntry,
  redoneOne,
  undoneOne,
} from "../history";

type Span = [number, number] | null;

const playedEntry = (at: number, before: Span, after: Span, revision = 7): Entry => ({
  kind: "played",
  clip: 1,
  words: "range",
  before,
  after,
  revision,
  at,
});

describe("the history of what is no look", () => {
  it("takes back what was done last while the look has not changed since", () => {
    const history = recordEntry(EMPTY, playedEntry(0, null, [2, 9]));
    expect(lastDone(history, 7)?.after).toEqual([2, 9]);
    expect(lastDone(history, 8)).toBeUndefined(); // the look's own change comes first
    expect(lastDone(EMPTY, 7)).toBeUndefined();
  });

  it("is walked both ways", () => {
    const history = recordEntry(
      recordEntry(EMPTY, playedEntry(0, null, [2, 9])),
      playedEntry(9000, [2, 9], [4, 9]),
    );
    const back = undoneOne(history);
    expect(lastDone(back, 7)?.after).toEqual([2, 9]);
    expect(lastUndone(back, 7)?.after).toEqual([4, 9]);
    expect(redoneOne(back)).toEqual(history);
  });

  it("gets past what can't be taken back", () => {
    const history = recordEntry(
      recordEntry(EMPTY, playedEntry(0, null, [2, 9])),
      playedEntry(9000, [2, 9], [4, 9]),
    );
    const past = dropLast(history, "undo");
    expect(lastDone(past, 7)?.after).toEqual([2, 9]);
    expect(dropLast(undoneOne(history), "redo").undone).toEqual([]);
  });

  it("has a drag as one change, and a change back as none", () => {
    let history = recordEntry(EMPTY, playedEntry(0, null, [2, 9]));
    history = recordEntry(history, playedEntry(300, [2, 9], [2, 12]));
    history = recordEntry(history, playedEntry(600, [2, 12], [2, 20]));
    expect(history.done).toHaveLength(1);
    expect(history.done[0]).toMatchObject({ before: null, after: [2, 20] });
    expect(recordEntry(history, playedEntry(700, [2, 20], null)).done).toHaveLength(0);
  });

  it("keeps changes of other clips and kinds apart, and those of another revision", () => {
    const history = recordEntry(EMPTY, playedEntry(0, null, [2, 9]));
    const other = { ...playedEntry(10, null, [1, 3]), clip: 2 };
    expect(recordEntry(history, other).done).toHaveLength(2);
    expect(recordEntry(history, playedEntry(10, [2, 9], [3, 9], 8)).done).toHaveLength(2);
  });

  it("forgets what was taken back once something new is done, and the oldest of many", () => {
    const back = undoneOne(recordEntry(EMPTY, playedEntry(0, null, [2, 9])));
    expect(recordEntry(back, playedEntry(5000, null, [1, 2])).undone).toEqual([]);
    let history = EMPTY;
    for (let n = 0; n < 60; n++)
      history = recordEntry(history, playedEntry(5000 * n, [n, 90], [n + 1, 90]));
    expect(history.done).toHaveLength(50);
    expect(history.done.at(-1)?.after).toEqual([60, 90]);
  });
});

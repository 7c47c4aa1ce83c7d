import { describe, expect, it } from "vitest";
import { holdTurns, takeTurn } from "../imageTurns";

describe("small pictures", () => {
  it("come one after another, in their order", () => {
    const began: string[] = [];
    const done = ["a", "b", "c"].map((name) => takeTurn(() => began.push(name)));
    expect(began).toEqual(["a"]);
    done[0]?.();
    done[0]?.(); // said twice: it moves on once
    expect(began).toEqual(["a", "b"]);
    done[1]?.();
    done[2]?.();
    expect(began).toEqual(["a", "b", "c"]);
  });

  it("leave the queue when they are not wanted any more", () => {
    const began: string[] = [];
    const done = ["a", "b", "c"].map((name) => takeTurn(() => began.push(name)));
    done[1]?.();
    done[0]?.();
    expect(began).toEqual(["a", "c"]);
    done[2]?.();
  });

  it("wait while something larger is on its way", () => {
    const began: string[] = [];
    holdTurns(true);
    const done = takeTurn(() => began.push("a"));
    expect(began).toEqual([]);
    holdTurns(false);
    expect(began).toEqual(["a"]);
    done();
  });
});

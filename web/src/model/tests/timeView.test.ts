import { describe, expect, it } from "vitest";
import { ALL, following, shiftView, type TimeView, zoomedAbout } from "../timeView";

const FRAMES = 192;

/** Where a frame is seen, 0 left to 1 right. */
const placeSeen = (view: TimeView, frame: number) =>
  ((frame + 0.5) / FRAMES - view.from) * view.zoom;

describe("a view of time", () => {
  it.each([40, 96, 150])("is zoomed about the play head: frame %d stays where it is", (frame) => {
    const view = zoomedAbout(ALL, 2, frame, FRAMES);
    expect(view.zoom).toBe(2);
    expect(placeSeen(view, frame)).toBeCloseTo(placeSeen(ALL, frame));
    expect(zoomedAbout(view, 0.5, frame, FRAMES)).toEqual(ALL);
  });

  it("shows no less than eight frames, and no more than the clip", () => {
    expect(zoomedAbout(ALL, 1000, 5, FRAMES).zoom).toBe(24);
    expect(zoomedAbout(ALL, 0.1, 5, FRAMES)).toEqual(ALL);
    expect(zoomedAbout(ALL, 4, 0, 6).zoom).toBe(1);
  });

  it("ends where the clip does", () => {
    const view = zoomedAbout({ zoom: 4, from: 0.75 }, 0.5, 190, FRAMES);
    expect(view.from + 1 / view.zoom).toBeLessThanOrEqual(1);
    expect(shiftView({ zoom: 4, from: 0.7 }, 1)).toEqual({ zoom: 4, from: 0.75 });
    expect(shiftView({ zoom: 4, from: 0.1 }, -1)).toEqual({ zoom: 4, from: 0 });
  });

  it("follows the play head out of it, with room on the side it moves to", () => {
    const view: TimeView = { zoom: 4, from: 0.25 };
    expect(following(view, 60, FRAMES)).toBe(view);
    const on = following(view, 97, FRAMES);
    expect(placeSeen(on, 97)).toBeCloseTo(0.1);
    const back = following(view, 46, FRAMES);
    expect(placeSeen(back, 46)).toBeCloseTo(0.9);
    expect(following(ALL, 191, FRAMES)).toBe(ALL);
  });

  it("does not move for a play head at the clip's very end", () => {
    const end: TimeView = { zoom: 24, from: 1 - 1 / 24 };
    expect(following(end, 191, FRAMES)).toEqual(end);
  });
});

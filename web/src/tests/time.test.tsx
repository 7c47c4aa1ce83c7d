// @vitest-environment jsdom
import { act, fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import {
  blur,
  button,
  field,
  goTo,
  group,
  makeStep,
  openPage,
  settingOf,
  slider,
  widen,
} from "./openPage";

/** A glow whose spread grows from frame 0 to 48. */
const growing = () =>
  makeStep("glow", {
    keys: {
      spread: [
        { frame: 0, value: 52, ease: "ease" },
        { frame: 48, value: 120, ease: "ease" },
      ],
    },
  });

const keyAt = (frame: number) => button(new RegExp(`^Key at frame ${frame}`));

/** Pick what stands in a lane, as Tab does: jsdom can't tell where in it a click is. */
const pick = (mark: HTMLElement) => act(() => mark.focus());

/** Drag in a lane of as many pixels as the clip has frames. */
function drag(lane: HTMLElement, on: HTMLElement, frames: number[]) {
  widen(lane, 192);
  const [from = 0, ...ways] = frames.map((frame) => frame + 0.5);
  fireEvent.pointerDown(on, { clientX: from, button: 0 });
  for (const clientX of ways) fireEvent.pointerMove(lane, { clientX });
  fireEvent.pointerUp(lane, { clientX: ways.at(-1) });
}

describe("keys", () => {
  it("are moved, eased by hand, copied, taken out and brought back", async () => {
    const { user, kept } = await openPage([growing()], { frame: 48 });
    pick(keyAt(48));
    await user.clear(field("Frame of the key"));
    await user.type(field("Frame of the key"), "60{Enter}");
    pick(keyAt(0));
    await user.click(button("ease"));
    await user.click(button("by hand"));
    act(() => slider("Handle where it arrives").focus());
    await user.keyboard("{ArrowLeft}");
    goTo(100);
    pick(keyAt(0));
    await user.click(button("Copy to frame 100"));
    const keys = (await kept())[0]?.keys?.spread ?? [];
    expect(keys.map((key) => [key.frame, key.value])).toEqual([
      [0, 52],
      [60, 120],
      [100, 52],
    ]);
    const eased = keys[0]?.ease as number[];
    for (const [n, part] of [0.25, 0.1, 0.24, 1].entries()) expect(eased[n]).toBeCloseTo(part);
    await user.click(button("Remove"));
    expect((await kept())[0]?.keys?.spread).toHaveLength(2);
    await user.click(button("Undo"));
    expect(within(group("Keys")).getAllByRole("button")).toHaveLength(3);
  });

  it("the last one taken out leaves its value", async () => {
    const { user, kept } = await openPage([growing()], { frame: 48 });
    for (let n = 0; n < 2; n++) {
      pick(within(group("Keys")).getAllByRole("button")[0] as HTMLElement);
      await user.keyboard("{Delete}");
    }
    const [glow] = await kept();
    expect(glow?.keys?.spread ?? []).toEqual([]);
    expect(settingOf(glow, "spread")).toBe(120);
    await user.click(screen.getByRole("tab", { name: /^What/ }));
    expect(slider("Spread").ariaValueNow).toBe("120");
  });

  it("one that is dragged does not land on another", async () => {
    const { kept } = await openPage([growing()], { frame: 48 });
    drag(group("Keys"), keyAt(48), [48, 20, 0]);
    expect((await kept())[0]?.keys?.spread?.map((key) => key.frame)).toEqual([0, 20]);
  });

  it("of nothing, it is said how to", async () => {
    const { user } = await openPage([makeStep("glow")]);
    blur();
    await user.keyboard("k");
    const said = /^Nothing of this step is keyed yet/;
    expect(screen.getByText(said)).toBeTruthy();
    await user.click(button("I have read this"));
    expect(screen.queryByText(said)).toBeNull();
  });
});

describe("bursts", () => {
  it("are drawn, moved, lengthened, typed and taken out", async () => {
    const { user, kept } = await openPage([makeStep("glow")]);
    await user.click(screen.getByRole("tab", { name: /^When/ }));
    drag(group("Bursts"), group("Bursts"), [24, 35, 47]);
    expect((await kept())[0]?.bursts).toEqual([{ from: 24, to: 47, ramp: 0 }]);
    pick(button(/^Burst 1/));
    await user.keyboard("{ArrowRight}");
    pick(button(/^Burst 1/));
    await user.keyboard("{Alt>}{ArrowRight}{/Alt}");
    await user.clear(field("Ramp of the burst"));
    await user.type(field("Ramp of the burst"), "4{Enter}");
    expect((await kept())[0]?.bursts).toEqual([{ from: 25, to: 49, ramp: 4 }]);
    pick(button(/^Burst 1/));
    await user.keyboard("{Delete}");
    expect((await kept())[0]?.bursts).toEqual([]);
  });

  it.each([
    ["at an interval", { way: "repeated", ramp: 0, first: 0, length: 5, every: 24 }],
    [
      "by chance",
      { way: "scattered", ramp: 0, count: 8, shortest: 3, longest: 10, seed: 1, length: 5 },
    ],
    ["on the sound", { way: "sound", ramp: 0, length: 5, threshold: 1 }],
  ])("are made by rule, %s, and all taken out", async (rule, { length, ...rest }) => {
    const asked: unknown[] = [];
    const bursts = [{ from: 3, to: 5, ramp: 0 }];
    const answers = {
      "POST /api/v1/clips/1/bursts": (body: unknown) => {
        asked.push(body);
        return bursts;
      },
    };
    const { user, kept } = await openPage([makeStep("glow")], { answers });
    await user.click(screen.getByRole("tab", { name: /^When/ }));
    await user.click(button("By rule"));
    await user.click(button(rule));
    const typed = screen.queryByRole("textbox", { name: "Length of a burst" });
    if (typed) {
      await user.clear(typed);
      await user.type(typed, `${length}{Enter}`);
    }
    await user.click(button("Create bursts"));
    await screen.findByRole("button", { name: /^Burst 1:/ });
    expect(asked).toEqual([typed ? { ...rest, length } : rest]);
    expect((await kept())[0]?.bursts).toEqual(bursts);
    await user.click(button("Remove all"));
    expect((await kept())[0]?.bursts).toEqual([]);
  });
});

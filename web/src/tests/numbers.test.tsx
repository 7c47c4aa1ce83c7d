// @vitest-environment jsdom
import { fireEvent, screen } from "@testing-library/react";
import { act } from "react";
import { describe, expect, it } from "vitest";
import { useBench } from "../store/bench";
import { field, makeStep, openPage, settingOf, slider, widen } from "./openPage";

const focus = (element: HTMLElement) => act(() => element.focus());

describe("a number", () => {
  it("is stepped, typed, put back and dragged", async () => {
    const { user } = await openPage([makeStep("glow")]);
    const spread = slider("Spread");
    const shows = (value: number) => expect(spread.ariaValueNow).toBe(`${value}`);
    shows(52);
    focus(spread);
    for (const [key, value] of [
      ["{ArrowUp}", 53],
      ["{Shift>}{ArrowUp}{/Shift}", 63],
      ["{ArrowDown}", 62],
    ] as const) {
      await user.keyboard(key);
      shows(value);
    }
    const typed = field("Spread, in px");
    await user.clear(typed);
    await user.type(typed, "240{Enter}"); // beyond the slider, as a file may
    shows(240);
    await user.clear(typed);
    await user.type(typed, "wide{Enter}");
    expect(typed.ariaInvalid).toBe("true");
    focus(typed);
    await user.keyboard("{Escape}");
    shows(240);
    widen(spread, 200);
    fireEvent.doubleClick(spread);
    shows(52);
    fireEvent.pointerDown(spread, { clientX: 20, button: 0 });
    fireEvent.pointerMove(spread, { clientX: 195 });
    fireEvent.pointerUp(spread, { clientX: 195 });
    const now = Number(spread.ariaValueNow);
    expect(now).toBeGreaterThanOrEqual(190);
    expect(now).toBeLessThan(200);
  });

  it("is stepped by a tenth with Alt", async () => {
    const { user, kept } = await openPage([makeStep("glow")]);
    focus(slider("Warmth"));
    await user.keyboard("{Alt>}{ArrowUp}{/Alt}");
    expect(settingOf((await kept())[0], "warmth")).toBeCloseTo(0.151);
  });

  it("is dragged ten times finer with Shift", async () => {
    const { kept } = await openPage([makeStep("glow")]);
    const spread = slider("Spread");
    widen(spread, 200);
    fireEvent.pointerDown(spread, { clientX: 52, button: 0, shiftKey: true });
    for (const clientX of [62, 72, 82, 92, 102])
      fireEvent.pointerMove(spread, { clientX, shiftKey: true });
    fireEvent.pointerUp(spread, { clientX: 102, shiftKey: true });
    expect(settingOf((await kept())[0], "spread")).toBeCloseTo(57, 0);
  });

  it("beyond its limit says the limit and gives the keyboard back", async () => {
    const { user, kept } = await openPage([makeStep("glow")]);
    await user.click(screen.getByRole("tab", { name: /^Mixed/ }));
    const typed = field("Amount, in %");
    await user.clear(typed);
    await user.type(typed, "140{Enter}");
    expect(screen.getByText(/at most 100 %/)).toBeTruthy();
    expect((await kept())[0]?.mix?.amount ?? 1).toBe(1);
    await user.keyboard("{ArrowRight}"); // the field has let the keyboard go
    expect(useBench.getState().frame).toBe(1);
  });
});

describe("a place in the tones", () => {
  it("is a percentile of the clip, and a number again", async () => {
    const step = makeStep("glow");
    step.settings.threshold = { percentile: 94 };
    const { user, kept } = await openPage([step]);
    const threshold = async () => settingOf((await kept())[0], "threshold");
    expect(slider("Threshold").ariaValueText).toBe("94.0 %ile");
    focus(slider("Threshold"));
    await user.keyboard("{ArrowUp}");
    expect(await threshold()).toEqual({ percentile: 95 });
    fireEvent.click(screen.getByRole("switch", { name: "By the clip's tones" }));
    expect(await threshold()).toBe(0.55);
    expect(slider("Threshold").ariaValueText).toBe("55 %");
  });
});

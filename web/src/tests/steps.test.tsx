// @vitest-environment jsdom
import { act, fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Step } from "../api/client";
import { useBench } from "../store/bench";
import { blur, button, makeStep, openPage, settingOf, slider } from "./openPage";

/** A closed step, by its name. */
const card = (name: string) =>
  screen
    .getAllByText(name)
    .map((words) => words.closest("[role=button]"))
    .find((found) => found !== null) as HTMLElement;
const hint = () => screen.queryByRole("button", { name: /^It sharpens the grain/ });
const kinds = (steps: { treatment: string }[]) => steps.map((step) => step.treatment);

/** The page with the sheet for adding open. */
async function openSheet(steps: Step[] = [], answers = {}) {
  const opened = await openPage(steps, { answers });
  blur();
  await opened.user.keyboard("n");
  return opened;
}

const tiles = () => within(screen.getByRole("listbox", { name: "Treatments" }));
const chosenTile = () => tiles().getByRole("option", { selected: true });

describe("the sheet for adding", () => {
  it.each([
    ["snow", "flurry"],
    ["satur", "hue"],
    ["jitter", "flicker"],
    ["texture", "plate"],
  ])("finds by %s what people call so: %s", async (typed, kind) => {
    const { user, kept } = await openSheet();
    await user.keyboard(typed);
    expect(tiles().getAllByRole("option").length).toBeGreaterThan(1);
    for (let n = 0; n < 8 && chosenTile().dataset.kind !== kind; n++)
      await user.keyboard("{ArrowRight}");
    await user.keyboard("{Enter}");
    expect(kinds(await kept())).toEqual([kind]);
    expect(screen.getByRole("region", { name: new RegExp(`^${kind}, open$`, "i") })).toBeTruthy();
  });

  it("takes letters for a name, and no shortcut works", async () => {
    const renders: unknown[] = [];
    const answers = { "POST /api/v1/renders": (body: unknown) => renders.push(body) };
    const { user, kept } = await openSheet([makeStep("glow")], answers);
    await user.keyboard("rxk?");
    expect(screen.getByText(/^Nothing is called that here/)).toBeTruthy();
    act(() => button("Cancel").focus());
    await user.keyboard("x{ArrowRight}{Enter}"); // the button's own key, not the tile's
    expect(screen.queryByRole("listbox", { name: "Treatments" })).toBeNull();
    expect((await kept())[0]?.on ?? true).toBe(true);
    expect(useBench.getState().frame).toBe(0);
    expect(renders).toEqual([]);
    expect(screen.queryByRole("dialog", { name: "Keys" })).toBeNull();
  });
});

describe("steps", () => {
  it("are made twice, and the two are apart", async () => {
    const { user, kept } = await openPage([makeStep("glow")]);
    act(() => slider("Spread").focus());
    await user.keyboard("{Shift>}{ArrowUp}{/Shift}");
    blur();
    await user.keyboard("d");
    const [first, second] = await kept();
    expect([first?.id, second?.id]).toEqual(["glow-1", "glow-2"]);
    expect(first?.settings).toEqual(second?.settings);
    act(() => slider("Spread").focus());
    await user.keyboard("{Shift>}{ArrowUp}{/Shift}");
    expect((await kept()).map((step) => settingOf(step, "spread"))).toEqual([62, 72]);
    await user.click(button("Undo"));
    await user.click(button("Undo"));
    expect(kinds(await kept())).toEqual(["glow"]);
  });

  it("that are chosen are moved and taken out together, and come back", async () => {
    const { user, kept } = await openPage([
      makeStep("exposure"),
      makeStep("tone"),
      makeStep("hue"),
    ]);
    await user.click(button("Close step"));
    for (const name of ["Tone", "Hue"]) fireEvent.click(card(name), { ctrlKey: true });
    await user.click(button("Move them earlier"));
    expect(kinds(await kept())).toEqual(["tone", "hue", "exposure"]);
    await user.click(button("Remove them"));
    expect(kinds(await kept())).toEqual(["exposure"]);
    await user.click(button("Undo"));
    expect(kinds(await kept())).toEqual(["tone", "hue", "exposure"]);
  });

  it("in an unusual order are told of, and mended by a click", async () => {
    const { user, kept } = await openPage([makeStep("sharpen"), makeStep("grain")]);
    expect(hint()).toBeNull();
    await user.click(card("Grain"));
    await user.click(button("Move earlier"));
    await user.click(hint() as HTMLElement);
    expect(hint()).toBeNull();
    expect(kinds(await kept())).toEqual(["sharpen", "grain"]);
  });
});

describe("a step whose package is not installed", () => {
  const absent = (): Step => ({
    ...makeStep("glow", { id: "dust", keys: { amount: [{ frame: 0, value: 1, ease: "ease" }] } }),
    treatment: "film-tools.dust",
    settings: { amount: 0.25, rows: [[1, 2.5]] } as unknown as Step["settings"],
  });

  it("is shown as not here, and opened to say why", async () => {
    const { user } = await openPage([makeStep("grain"), absent()]);
    expect(within(card("Dust")).getByText("not here")).toBeTruthy();
    expect(within(card("Dust")).getByText("of package film-tools")).toBeTruthy();
    await user.click(card("Dust"));
    expect(screen.getByText("The package “film-tools” is not installed here.")).toBeTruthy();
    expect(screen.queryByRole("tab", { name: /^What/ })).toBeNull();
    expect(screen.queryByRole("button", { name: "Make the step twice" })).toBeNull();
  });

  it("is moved and switched off, and written back as it was", async () => {
    const { user, kept } = await openPage([absent(), makeStep("grain")]);
    await user.click(screen.getByRole("button", { name: "Move later" }));
    await user.click(screen.getByRole("switch", { name: /Step/ }));
    const [, last] = await kept();
    expect(last).toEqual({ ...absent(), on: false });
    expect(screen.getByText(/^It is switched off: renders are made without it/)).toBeTruthy();
  });
});

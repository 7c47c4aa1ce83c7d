import { ChakraProvider } from "@chakra-ui/react";
import { QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, configure, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, vi } from "vitest";
import catalogue from "../../../schemas/catalogue.json";
import type { Catalogue, Clip, Look, LookState, PageMemory, Step, Treatment } from "../api/client";
import { queryClient } from "../api/queries";
import { App } from "../app/App";
import { madeStep } from "../model/newStep";
import { useBench } from "../store/bench";
import { startSelection } from "../store/look";
import { system } from "../ui/theme";

/**
 * The page without a browser, for what needs no pixel: its controls, and what an edit makes of the
 * look. jsdom draws nothing and measures nothing; what is dragged in has to be told how wide it is.
 */

/** What stands for the server; the page's client takes `fetch` once, when it is read. */
const server = vi.hoisted(() => {
  const stand = { fetch: (_: Request): Promise<Response> => new Promise(() => {}) };
  globalThis.fetch = (request, init) =>
    stand.fetch(
      request instanceof Request ? request : new Request(new URL(request, location.origin), init),
    );
  return stand;
});

const CATALOGUE = catalogue as unknown as Catalogue;

const CLIP: Clip = {
  id: 1,
  name: "Lantern barge",
  width: 1920,
  height: 1080,
  frames: 192,
  rate: 24,
  duration: 8,
  pixel_format: "yuv420p",
  matrix: "bt709",
  matrix_tagged: true,
  range: "limited",
  light: "SDR",
  fields: "progressive",
  variable_rate: false,
  codec: "h264",
  container: "mp4",
  audio: [{ codec: "aac", rate: 48_000, channels: 2 }],
  reading: {} as Clip["reading"],
};

const MEMORY: PageMemory = {
  clip: 1,
  clips: {},
  open: null,
  question: "what",
  panel: "readings",
  zoom: null,
  path_height: null,
  side_width: null,
  history: { done: [], undone: [] },
};

/** What the server answers to a body that is sent, by method and path: `POST /api/v1/bursts`. */
type Answers = Record<string, (body: unknown) => unknown>;

/** A treatment's step as it is made. */
export function makeStep(kind: string, more: Partial<Step> = {}): Step {
  const treatment = CATALOGUE.treatments.find((t) => t.kind === kind) as Treatment;
  return { ...madeStep(treatment, `${kind}-1`, {}), ...more };
}

/** Open the page on a look whose first step is open; the server keeps each state of the look. */
export async function openPage(steps: Step[], { frame = 0, answers = {} as Answers } = {}) {
  cleanup();
  configure({ asyncUtilTimeout: 30_000, defaultHidden: true });
  stubBrowser();
  const states = [lookState({ look: lookOf(steps), fittings: {} }, 1)];
  let at = 0;
  const now = () => states[at] as LookState;
  const walk = (by: number) => () => {
    at += by;
    // a state that was gone back to is a revision of its own
    states[at] = { ...now(), revision: now().revision + 100 };
    return now();
  };
  const known: Answers = {
    "GET /api/v1/project": () => ({ name: "Tidewater Lamps", read_only: false }),
    "GET /api/v1/catalogue": () => CATALOGUE,
    "GET /api/v1/clips": () => [CLIP],
    "GET /api/v1/looks": () => [now()],
    "GET /api/v1/kept-steps": () => [],
    "GET /api/v1/page": () => ({
      ...MEMORY,
      clips: { 1: { frame, look: 1 } },
      open: steps[0]?.id ?? null,
    }),
    "PUT /api/v1/looks/1": (body) => {
      at += 1;
      states.splice(at, states.length, lookState(body as Edited, 1 + at));
      return now();
    },
    "POST /api/v1/looks/1/undo": walk(-1),
    "POST /api/v1/looks/1/redo": walk(1),
    ...answers,
  };
  server.fetch = async (request) => {
    const answer = known[`${request.method} ${new URL(request.url).pathname}`];
    const text = await request.text();
    if (!answer) return new Promise(() => {}); // what is of no interest is never answered
    return Response.json(answer(text ? JSON.parse(text) : undefined));
  };
  useBench.setState(useBench.getInitialState(), true);
  queryClient.clear();
  render(
    <QueryClientProvider client={queryClient}>
      <ChakraProvider value={system}>
        <App />
      </ChakraProvider>
    </QueryClientProvider>,
  );
  await waitFor(() => expect(useBench.getState().clip).not.toBeNull());
  return {
    user: userEvent.setup(),
    /** The steps on the clip, once all edits are with the server. */
    kept: async () => {
      const { look, shared, fittings } = useBench.getState();
      await waitFor(() => expect([now().look, now().fittings]).toEqual([shared, fittings]));
      return look?.steps ?? [];
    },
  };
}

startSelection();

/** A value of a step's setting. */
export const settingOf = (step: Pick<Step, "settings"> | undefined, name: string) =>
  (step?.settings as Step["settings"] | undefined)?.[name];

/** Put the play head at a frame. */
export const goTo = (frame: number) => act(() => useBench.setState({ frame }));

/** Let go of what has the focus, so that keys are the page's. */
export const blur = () => act(() => (document.activeElement as HTMLElement)?.blur());

/** Have an element be so many pixels wide, from the left edge of the page. */
export function widen(element: HTMLElement, width: number) {
  element.getBoundingClientRect = () => new DOMRect(0, 0, width, 12);
}

export const button = (name: string | RegExp) => screen.getByRole("button", { name });
export const slider = (name: string | RegExp) => screen.getByRole("slider", { name });
export const field = (name: string) => screen.getByRole("textbox", { name });
export const group = (name: string) => screen.getByRole("group", { name });

type Edited = Pick<LookState, "look" | "fittings">;

const lookOf = (steps: Step[]): Look => ({
  format: "yearning-look/3",
  name: "Test",
  steps: steps as Look["steps"],
});

function lookState({ look, fittings }: Edited, revision: number): LookState {
  return {
    id: 1,
    revision,
    name: look.name,
    look,
    digest: `${revision}`,
    fittings,
    digests: {},
    undoes: revision > 1 ? { words: "an edit", step: null } : null,
    redoes: { words: "an edit", step: null },
  };
}

/** What the page asks of a browser that jsdom does not have. */
function stubBrowser() {
  const silent = class {
    addEventListener() {}
    close() {}
    disconnect() {}
    observe() {}
    send() {}
    unobserve() {}
  };
  for (const name of ["EventSource", "IntersectionObserver", "ResizeObserver", "WebSocket"])
    vi.stubGlobal(name, silent);
  vi.stubGlobal("matchMedia", () => ({ matches: false, addEventListener() {} }));
  HTMLCanvasElement.prototype.getContext = () => null;
  Element.prototype.scrollIntoView = () => {};
  let captured: Element | null = null;
  Element.prototype.setPointerCapture = function () {
    captured = this;
  };
  Element.prototype.hasPointerCapture = function () {
    return captured === this;
  };
  Element.prototype.releasePointerCapture = () => {
    captured = null;
  };
}

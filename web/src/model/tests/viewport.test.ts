import { describe, expect, it } from "vitest";
import {
  boundedZoom,
  centreFor,
  drawnAt,
  isWhole,
  nextZoom,
  onPicture,
  pixelsAround,
  sideWidth,
  viewport,
  ZOOMS,
} from "../viewport";

const HD = { width: 1920, height: 1080 };
const ROOM = { width: 900, height: 500 };
const MIDDLE = { x: 0.5, y: 0.5 };

describe("a picture in a room", () => {
  it("is fitted in, in the middle, and seen whole", () => {
    const view = viewport(ROOM, HD, 1, null, MIDDLE);
    expect(view.width).toBeCloseTo((500 * 16) / 9);
    expect(view.height).toBeCloseTo(500);
    expect(view.left).toBe(Math.round((900 - view.width) / 2));
    expect(view.top).toBe(0);
    expect(isWhole(view.seen)).toBe(true);
    expect(view.zoom).toBeCloseTo(500 / 1080);
  });

  it.each([1, 2])("at 1:1 shows a pixel on a screen pixel, %d of them to a CSS pixel", (ratio) => {
    const view = viewport(ROOM, HD, ratio, 1, MIDDLE);
    expect(view.width).toBe(1920 / ratio);
    expect(view.seen.width).toBeCloseTo(Math.min(1, (900 * ratio) / 1920));
    expect(view.zoom).toBe(1);
  });

  it.each([
    { x: 0, y: 0 },
    { x: 1, y: 1 },
    { x: 0.02, y: 0.97 },
  ])("shows nothing beyond the picture's edges when $x, $y is asked for", (centre) => {
    const { seen, left, top, width, height } = viewport(ROOM, HD, 1, 2, centre);
    expect(seen.x).toBeGreaterThanOrEqual(0);
    expect(seen.y).toBeGreaterThanOrEqual(0);
    expect(seen.x + seen.width).toBeLessThanOrEqual(1 + 1e-12);
    expect(seen.y + seen.height).toBeLessThanOrEqual(1 + 1e-12);
    expect(left).toBeLessThanOrEqual(0);
    expect(left + width).toBeGreaterThanOrEqual(ROOM.width - 1e-9);
    expect(top + height).toBeGreaterThanOrEqual(ROOM.height - 1e-9);
  });

  it.each([0.12, 0.8, 1, 3, 8])("zoomed to %d keeps the place under the pointer", (zoom) => {
    const at = { x: 431, y: 222 };
    const before = viewport(ROOM, HD, 1, 1, { x: 0.4, y: 0.55 });
    const held = onPicture(before, at);
    const after = viewport(ROOM, HD, 1, zoom, centreFor(ROOM, HD, 1, zoom, held, at));
    if (isWhole(after.seen)) return expect(after.width).toBeLessThanOrEqual(ROOM.width);
    const found = onPicture(after, at);
    // to a screen pixel: pictures begin on whole ones, so that they stay sharp
    expect(Math.abs(found.x - held.x) * after.width).toBeLessThan(1);
    expect(Math.abs(found.y - held.y) * after.height).toBeLessThan(1);
  });
});

it.each([1, 2])("a larger picture begins on a screen pixel (%d to a CSS pixel)", (ratio) => {
  for (const zoom of [1, 1.5, 3, 8]) {
    const { left, top } = viewport({ width: 907, height: 511 }, HD, ratio, zoom, {
      x: 0.377,
      y: 0.61,
    });
    expect(left * ratio).toBeCloseTo(Math.round(left * ratio), 9);
    expect(top * ratio).toBeCloseTo(Math.round(top * ratio), 9);
  }
});

describe("zoom", () => {
  it("goes through the row and stays within 12 and 800 %", () => {
    const up = [0.12];
    for (let i = 0; i < 20; i += 1) up.push(nextZoom(up.at(-1) ?? 1, 1));
    expect(up.slice(0, ZOOMS.length)).toEqual(ZOOMS);
    expect(up.at(-1)).toBe(8);
    expect(nextZoom(0.12, -1)).toBe(0.12);
    expect(nextZoom(0.4611, 1)).toBe(0.5);
    expect(nextZoom(0.4611, -1)).toBe(0.25);
    expect([boundedZoom(0), boundedZoom(99)]).toEqual([0.12, 8]);
  });
});

describe("what is asked for of a part", () => {
  it.each([
    { x: 0.1234, y: 0.3456, width: 0.2001, height: 0.111 },
    { x: 0, y: 0, width: 0.5, height: 1 },
    { x: 0.9, y: 0.9, width: 0.1, height: 0.1 },
  ])("are whole pixels around it, where the server cuts them", (part) => {
    const { window, part: exact } = pixelsAround(part, HD);
    // the server: left = round(x width - w / 2), as docs of POST /api/v1/pictures have it
    const left = Math.round(window.x * HD.width - window.width / 2);
    const top = Math.round(window.y * HD.height - window.height / 2);
    expect(left / HD.width).toBeCloseTo(exact.x, 12);
    expect(top / HD.height).toBeCloseTo(exact.y, 12);
    expect(exact.x).toBeLessThanOrEqual(part.x + 1e-6);
    expect(exact.x + exact.width).toBeGreaterThanOrEqual(part.x + part.width - 1e-6);
    expect(window.width - part.width * HD.width).toBeLessThan(2);
  });

  it("is drawn where it belongs, also while another part is seen already", () => {
    const seen = { x: 0.25, y: 0.5, width: 0.5, height: 0.25 };
    const canvas = { width: 400, height: 200 };
    expect(drawnAt(seen, seen, canvas)).toEqual({ x: 0, y: 0, width: 400, height: 200 });
    expect(drawnAt({ x: 0, y: 0, width: 1, height: 1 }, seen, canvas)).toEqual({
      x: -200,
      y: -400,
      width: 800,
      height: 800,
    });
  });
});

describe("what stands beside the picture", () => {
  it("gives way to it, down to its least", () => {
    expect(sideWidth({ width: 1162, height: 510 }, HD, null, 190)).toBe(255);
    expect(sideWidth({ width: 1162, height: 560 }, HD, null, 190)).toBe(190);
  });

  it("takes what is left, but not all of a wide window", () => {
    expect(sideWidth({ width: 2400, height: 600 }, HD, null, 190)).toBe(624);
  });

  it("stays as it was put, within the window", () => {
    expect(sideWidth({ width: 1162, height: 510 }, HD, 400, 190)).toBe(400);
    expect(sideWidth({ width: 1162, height: 510 }, HD, 4000, 190)).toBe(682);
    expect(sideWidth({ width: 1162, height: 510 }, HD, 20, 190)).toBe(190);
  });
});

import { create } from "zustand";

/** The places of the product; where one is stands in the address, so that it can be kept. */
export const PLACES = ["bench", "steadiness", "output"] as const;
export type Place = (typeof PLACES)[number];

const named = (): Place =>
  PLACES.find((place) => place === window.location.hash.slice(1)) ?? "bench";

export const usePlace = create<{ place: Place }>(() => ({ place: named() }));

window.addEventListener("hashchange", () => usePlace.setState({ place: named() }));

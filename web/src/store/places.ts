import { create } from "zustand";

/** The places of the product; where one is stands in the address, so that it can be kept. */
export const PLACES = ["bench", "reel", "proofs", "steadiness", "output"] as const;
export type Place = (typeof PLACES)[number];

export const usePlace = create<{ place: Place }>(() => ({ place: "bench" }));

/** Go to a place, as its link does. */
export function goToPlace(place: Place) {
  window.location.hash = place;
}

const follow = () =>
  usePlace.setState({
    place: PLACES.find((place) => place === window.location.hash.slice(1)) ?? "bench",
  });

/** Have the place be the one in the address, now and when it changes. */
export function startPlaces() {
  follow();
  window.addEventListener("hashchange", follow);
}

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import {
  api,
  type Clip,
  type Look,
  NO_LOOK,
  type Readings,
  type Step,
  unwrap,
  type Value,
} from "../api/client";
import { findStep } from "../model/lookTree";
import { bench, useBench } from "./bench";
import { shownHeight } from "./playRequest";
import { previewHeight } from "./previews";

/** Readings follow what is changed, and play, so often at the most: play needs the machine too. */
const EVERY_MS = 150;
const IN_PLAY_MS = 500;

interface Read {
  clip: Clip;
  frame: number;
  look: Look;
}

/** What is read just now: the bench as it was when it last stood still, or a moment ago in play. */
function useRead(): Read | null {
  const [read, setRead] = useState<Read | null>(null);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const look = () => {
      timer = undefined;
      const { clip, frame, look, moving } = bench();
      if (clip && look && !moving) setRead({ clip, frame, look });
    };
    const soon = () => {
      timer ??= setTimeout(look, bench().playing ? IN_PLAY_MS : EVERY_MS);
    };
    soon();
    const off = useBench.subscribe((now, before) => {
      if (now.smaller !== before.smaller) {
        clearTimeout(timer); // the frame that is shown was made at the former size
        timer = undefined;
      }
      if (["clip", "frame", "look", "moving"].some((k) => now[k as "clip"] !== before[k as "clip"]))
        soon();
    });
    return () => {
      off();
      clearTimeout(timer);
    };
  }, []);
  return read;
}

const requestOf = (read: Read | null, after: string | null, height: number) => ({
  clip: read?.clip.id ?? 0,
  frame: read?.frame ?? 0,
  look: read?.look ?? NO_LOOK,
  after,
  height,
  channel: "",
  sequence: 0,
});

/** The readings of the result, or of the picture after a step. */
export function useReadings(after: string | null): Readings | undefined {
  const read = useRead();
  const { data } = useQuery({
    queryKey: ["readings", read?.clip, read?.frame, read?.look.steps, after],
    queryFn: () =>
      unwrap(
        api.POST("/api/v1/readings", {
          body: requestOf(read, after, shownHeight()), // the server has what was shown still
        }),
      ),
    enabled: read !== null,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 20_000,
  });
  return data;
}

/** What a place holds of the result, or of the picture after a step. */
export async function valueAt(at: { x: number; y: number }, after: string | null): Promise<Value> {
  const { clip, frame, look } = bench();
  return unwrap(
    api.POST("/api/v1/samples", {
      body: {
        clip: clip?.id ?? 0,
        frame,
        look: look ?? NO_LOOK,
        after,
        height: previewHeight(),
        at,
        channel: "",
        sequence: 0,
      },
    }),
  );
}

const two = (part: number) =>
  Math.round(Math.min(Math.max(part, 0), 1) * 255)
    .toString(16)
    .padStart(2, "0");

/** A colour as looks have it. */
export const hexOf = (value: Value) => `#${two(value.red)}${two(value.green)}${two(value.blue)}`;

/** Lines of the picture by which held light is asked for: it is the same at any size. */
const HELD_LINES = 270;

/** How much light a step takes from mid-grey, 0..1 of white, before its amount. */
export function useHeldLight(step: Step): number | undefined {
  const read = useRead();
  const keyed = Object.keys(step.keys ?? {}).length > 0;
  const { data } = useQuery({
    queryKey: ["held light", read?.clip.id, read?.look.steps, step.id, keyed && read?.frame],
    queryFn: () =>
      unwrap(
        api.POST("/api/v1/held-light", {
          body: requestOf(read, step.id, HELD_LINES),
        }),
      ),
    enabled: findStep(read?.look.steps ?? [], step.id) !== undefined,
    placeholderData: keepPreviousData,
  });
  return data?.held;
}

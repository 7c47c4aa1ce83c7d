import { Box, chakra, Flex, Grid } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Clip } from "../../api/client";
import { rangeOf, setRange, useRenderOptions } from "../../store/renders";
import {
  AsSelect,
  BitsSelect,
  field,
  type Ground,
  PictureSelect,
  QualitySelect,
  SizeSelect,
  useHasAlpha,
} from "./WantedSelects";

const Input = chakra("input");

/** What the next render of clips is to be: its codec, quality, size, depth and frames. */
export function RenderAs({ clips, ground }: { clips: Clip[]; ground: Ground }) {
  const only = clips.length === 1 ? clips[0] : undefined;
  const hasAlpha = useHasAlpha();
  const highest = Math.max(...clips.map((clip) => clip.height), 0);
  return (
    <Grid templateColumns="minmax(0, 1fr) minmax(0, 1fr)" gap={ground === "wall" ? "4px" : "6px"}>
      <Labelled label="As" ground={ground}>
        <AsSelect ground={ground} />
      </Labelled>
      <Labelled label="Quality" ground={ground}>
        <QualitySelect ground={ground} />
      </Labelled>
      <Labelled label="Size" ground={ground}>
        <SizeSelect ground={ground} width={only?.width ?? null} height={highest || 2160} />
      </Labelled>
      <Labelled label="Depth" ground={ground}>
        <BitsSelect ground={ground} />
      </Labelled>
      {hasAlpha && (
        <Labelled label="Picture" ground={ground} wide>
          <PictureSelect ground={ground} />
        </Labelled>
      )}
      <Labelled label="Frames" ground={ground} wide>
        {only ? <Frames clip={only} ground={ground} /> : <EachOwn clips={clips} />}
      </Labelled>
    </Grid>
  );
}

interface LabelledProps {
  label: string;
  ground: Ground;
  wide?: boolean;
  children: ReactNode;
}

function Labelled({ label, ground, wide, children }: LabelledProps) {
  return (
    <Box minW="0" gridColumn={wide ? "1 / -1" : undefined} fontSize="12px">
      <Box color={ground === "wall" ? "wallMute" : "mute"} mb="1px">
        {label}
      </Box>
      {children}
    </Box>
  );
}

/** First and last frame of the result. */
function Frames({ clip, ground }: { clip: Clip; ground: Ground }) {
  const [first, last] = useRenderOptions(useShallow((s) => rangeOf(clip, s)));
  const whole = first === null && last === null;
  return (
    <Flex gap="5px" align="center" title="First and last frame of the result">
      <Frame
        label="First frame"
        ground={ground}
        value={first}
        empty={0}
        clip={clip}
        onSet={(frame) => setRange(clip, [frame, last])}
      />
      <Box>to</Box>
      <Frame
        label="Last frame"
        ground={ground}
        value={last}
        empty={clip.frames - 1}
        clip={clip}
        onSet={(frame) => setRange(clip, [first, frame])}
      />
      <Box color={ground === "wall" ? "wallMute" : "mute"} whiteSpace="nowrap">
        {whole ? "all" : `${Math.max((last ?? clip.frames - 1) - (first ?? 0) + 1, 0)} frames`}
      </Box>
    </Flex>
  );
}

/** Several clips: each has the range that was set for it by itself. */
function EachOwn({ clips }: { clips: Clip[] }) {
  const words = useRenderOptions(
    useShallow((s) =>
      clips.flatMap((clip) => {
        const [first, last] = rangeOf(clip, s);
        if (first === null && last === null) return [];
        return [`${clip.name} ${first ?? 0} to ${last ?? clip.frames - 1}`];
      }),
    ),
  );
  return <Box>{words.length ? `whole clips, but ${words.join(", ")}` : "whole clips"}</Box>;
}

interface FrameProps {
  label: string;
  ground: Ground;
  clip: Clip;
  value: number | null;
  empty: number;
  onSet: (frame: number | null) => void;
}

/** A frame's number; empty, it is the clip's own end. */
function Frame({ label, ground, clip, value, empty, onSet }: FrameProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const maximum = clip.frames - 1;
  const shown = typed ?? (value === null ? "" : String(value));
  const wrong = shown !== "" && !(/^\d+$/.test(shown) && Number(shown) <= maximum);
  return (
    <Input
      {...field(ground)}
      flex="1"
      width="0"
      minW="0"
      aria-label={label}
      aria-invalid={wrong}
      title={`0 to ${maximum}; empty for ${empty}`}
      placeholder={String(empty)}
      _placeholder={{ color: ground === "wall" ? "wallMute" : "mute" }}
      outline={wrong ? "2px solid" : undefined}
      outlineColor="ember"
      inputMode="numeric"
      value={shown}
      onChange={(event) => {
        const text = event.target.value.trim();
        setTyped(text);
        if (text === "") onSet(null);
        else if (/^\d+$/.test(text) && Number(text) <= maximum) onSet(Number(text));
      }}
      onBlur={() => setTyped(null)}
    />
  );
}

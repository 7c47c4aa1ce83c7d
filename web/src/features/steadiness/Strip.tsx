import { Box, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { type Clip, type Look, type PictureRequest, pictureOf } from "../../api/client";

const Image = chakra("img");

/** How far the difference of two frames is magnified, where that does not end at black or white. */
const GAINS = [8, 4, 2, 1, 0.5];
/** About grey, the mean change is to stand this far off at the most. */
const SEEN = 0.3;

export const gainFor = (change: number) => GAINS.find((gain) => gain * change <= SEEN) ?? 0.5;

/** A frame between its neighbours, and how it differs from the one before. */
export function Strip({
  clip,
  look,
  frame,
  change,
  flagged,
}: {
  clip: Clip;
  look: Look;
  frame: number;
  /** The mean change of the result from the frame before, as far as it is known. */
  change: number;
  flagged: boolean;
}) {
  const gain = gainFor(change);
  const frames = [frame - 1, frame, frame + 1].filter((f) => f >= 0 && f < clip.frames);
  return (
    <Flex gap="16px">
      {frames.map((f) => (
        <Framed key={f} clip={clip} look={look} ask={{ frame: f }} on={f === frame && flagged}>
          {`frame ${f}${f === frame && flagged ? " · flagged" : ""}`}
        </Framed>
      ))}
      {frame > 0 && (
        <Framed
          clip={clip}
          look={look}
          ask={{ frame, show: "change", base_frame: frame - 1, gain }}
        >
          {`change ${frame - 1} → ${frame}, × ${gain}`}
        </Framed>
      )}
    </Flex>
  );
}

interface Props {
  clip: Clip;
  look: Look;
  ask: Partial<PictureRequest>;
  on?: boolean;
  children: string;
}

function Framed({ clip, look, ask, on, children }: Props) {
  const { data } = useQuery({
    queryKey: ["strip", clip.id, JSON.stringify(clip.reading), look.steps, ask],
    queryFn: ({ signal }) => pictureOf(clip, look, { height: 288, ...ask }, signal),
  });
  const [address, setAddress] = useState<string>();
  useEffect(() => {
    if (!data) return;
    const made = URL.createObjectURL(data);
    setAddress(made);
    return () => URL.revokeObjectURL(made);
  }, [data]);
  return (
    <Box flex="1" minW="0" maxW="300px">
      <Box fontWeight={on ? "700" : "400"} mb="4px">
        {children}
      </Box>
      <Box
        bg="wallDeep"
        borderRadius="3px"
        overflow="hidden"
        outline={on ? "3px solid" : undefined}
        outlineColor="wallInk"
        style={{ aspectRatio: `${clip.width} / ${clip.height}` }}
      >
        {address && <Image src={address} alt={children} width="100%" height="100%" />}
      </Box>
    </Box>
  );
}

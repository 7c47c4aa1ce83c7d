import { Box, chakra } from "@chakra-ui/react";
import { useMemo, useRef, useState } from "react";
import { NO_LOOK } from "../../api/client";
import { useExtent } from "../../ui/useExtent";
import { usePictures, type Wanted } from "./usePictures";

const Image = chakra("img");

/** A proof as large as the wall, against the footage at the left of the pointer. */
export function Enlarged({ wanted, small }: { wanted: Wanted; small?: string }) {
  const wall = useRef<HTMLDivElement>(null);
  const room = useExtent(wall);
  const [at, setAt] = useState(0);
  const { clip } = wanted;
  const scale = Math.min(room.width / clip.width, room.height / clip.height);
  const [width, height] = [Math.floor(clip.width * scale), Math.floor(clip.height * scale)];
  const both = useMemo(
    () => [
      { ...wanted, key: "large" },
      { ...wanted, key: "footage", look: NO_LOOK },
    ],
    [wanted],
  );
  const lines = Math.max(2 * Math.round((height * devicePixelRatio) / 2), 0);
  const pictures = usePictures(both, lines);
  return (
    <Box
      ref={wall}
      className="on-wall"
      position="absolute"
      inset="0"
      zIndex="6"
      bg="wall"
      display="flex"
      alignItems="center"
      justifyContent="center"
      onPointerMove={(event) => {
        const rect = event.currentTarget.getBoundingClientRect();
        setAt(Math.min(Math.max(event.clientX - rect.left - (rect.width - width) / 2, 0), width));
      }}
      data-enlarged
    >
      <Box position="relative" width={`${width}px`} height={`${height}px`}>
        {(pictures.large ?? small) && (
          <Image
            src={pictures.large ?? small}
            alt="The proof, large"
            width="100%"
            height="100%"
            draggable={false}
          />
        )}
        {pictures.footage && (
          <Image
            src={pictures.footage}
            alt="The footage"
            position="absolute"
            inset="0"
            width="100%"
            height="100%"
            draggable={false}
            style={{ clipPath: `inset(0 ${width - at}px 0 0)` }}
          />
        )}
      </Box>
    </Box>
  );
}

import { Box, chakra } from "@chakra-ui/react";

const Image = chakra("img");

/** A small picture of a step; dimmed where the step is off. */
export function Thumbnail({
  source,
  alt,
  dimmed,
  width = 96,
}: {
  source?: string;
  alt: string;
  dimmed?: boolean;
  /** In CSS pixels; it is 16:9. */
  width?: number;
}) {
  return (
    <Box
      width={`${width}px`}
      height={`${Math.round((width * 9) / 16)}px`}
      flex="none"
      bg="line"
      borderRadius="3px"
      overflow="hidden"
      opacity={dimmed ? 0.4 : 1}
    >
      {source && (
        <Image
          src={source}
          alt={alt}
          width="100%"
          height="100%"
          objectFit="contain"
          draggable={false}
        />
      )}
    </Box>
  );
}

import { Box, chakra } from "@chakra-ui/react";

const Image = chakra("img");

/** A small picture of a step; dimmed where the step is off. */
export function Thumbnail({
  source,
  alt,
  dimmed,
}: {
  source?: string;
  alt: string;
  dimmed?: boolean;
}) {
  return (
    <Box
      width="96px"
      height="54px"
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

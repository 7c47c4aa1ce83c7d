import { Box, chakra } from "@chakra-ui/react";

const Picture = chakra("button");
const Image = chakra("img");
const Small = chakra("button");

interface Props {
  width: number;
  tall: number;
  source?: string;
  name: string;
  caption: string;
  /** It is how the look stands now. */
  stands: boolean;
  onNear: () => void;
  /** None of a picture that is there to be compared with. */
  onTake?: () => void;
  onCloser?: () => void;
}

/** One proof: a click takes it. */
export function Cell({ width, tall, source, name, caption, stands, ...on }: Props) {
  return (
    <Box
      width={`${width}px`}
      flex="none"
      className="proof"
      onPointerEnter={on.onNear}
      onFocus={on.onNear}
      data-stands={stands || undefined}
    >
      <Box position="relative">
        <Picture
          type="button"
          display="block"
          width={`${width}px`}
          height={`${tall}px`}
          bg="wallKey"
          borderRadius="3px"
          overflow="hidden"
          outline={stands ? "2px solid" : undefined}
          outlineColor="wallOn"
          outlineOffset="1px"
          cursor={on.onTake ? "pointer" : "default"}
          disabled={!on.onTake}
          aria-label={on.onTake ? `Take ${name}` : name}
          aria-pressed={on.onTake && stands}
          title={`${name}. ${on.onTake ? "A click takes it; hold" : "Hold"} F to see it large`}
          onClick={on.onTake}
        >
          {source && (
            <Image
              src={source}
              alt={name}
              width="100%"
              height="100%"
              objectFit="contain"
              draggable={false}
              decoding="sync"
            />
          )}
        </Picture>
        {on.onCloser && (
          <Small
            type="button"
            position="absolute"
            right="5px"
            bottom="5px"
            px="6px"
            fontSize="11px"
            lineHeight="18px"
            borderRadius="4px"
            bg="wallKey"
            color="wallInk"
            cursor="pointer"
            opacity={0}
            css={{ ".proof:hover &, .proof:focus-within &": { opacity: 1 } }}
            aria-label={`Closer to ${name}`}
            title="Halve the span, about this one"
            onClick={on.onCloser}
          >
            Closer
          </Small>
        )}
      </Box>
      {caption && (
        <Box fontSize="12px" lineHeight="20px" truncate>
          {caption}
          {stands && " · now"}
        </Box>
      )}
    </Box>
  );
}

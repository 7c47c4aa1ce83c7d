import { Box, Flex } from "@chakra-ui/react";
import { Button } from "../../ui/Button";

interface Props {
  width: number;
  caption: string;
  /** All of the row's clips stand so. */
  taken: boolean;
  /** None where it is nothing that every clip could have. */
  onTake?: () => void;
  playing: boolean;
  onPlay: () => void;
}

/** What a row is, and taking it for every clip. */
export function RowHead({ width, caption, taken, onTake, playing, onPlay }: Props) {
  return (
    <Flex
      direction="column"
      align="flex-start"
      gap="6px"
      width={`${width}px`}
      flex="none"
      borderLeftWidth="3px"
      borderColor={taken ? "wallOn" : "transparent"}
      pl="8px"
    >
      <Box fontSize="15px" lineHeight="1.2" overflowWrap="anywhere">
        {caption}
      </Box>
      {onTake && (
        <Button
          small
          type="button"
          tone={taken ? "wallOn" : "wall"}
          aria-label={`Take ${caption} for every clip`}
          title="Every clip has it from now on"
          onClick={onTake}
        >
          {taken ? "Taken" : "Take"}
        </Button>
      )}
      <Button
        small
        type="button"
        tone={playing ? "wallOn" : "wall"}
        aria-label={`Play ${caption}`}
        aria-pressed={playing}
        title="Two seconds of this row, in step"
        onClick={onPlay}
      >
        {playing ? "Stop" : "Play"}
      </Button>
    </Flex>
  );
}

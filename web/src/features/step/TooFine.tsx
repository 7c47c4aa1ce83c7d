import { Flex } from "@chakra-ui/react";
import type { Setting } from "../../api/client";
import { minVisibleSize } from "../../model/visibleSizes";
import { formatFixed } from "../../model/words";
import { useBench } from "../../store/bench";
import { Button } from "../../ui/Button";

interface Props {
  setting: Setting;
  value: number;
  onEnlarge: (value: number) => void;
}

/** Says that a size is too fine to be seen on the clip, and offers the smallest that is seen. */
export function TooFine({ setting, value, onEnlarge }: Props) {
  const lines = useBench((s) => s.clip?.height);
  const minimum = lines === undefined ? null : minVisibleSize(setting, lines);
  if (minimum === null || lines === undefined || value >= minimum) return null;
  return (
    <Flex align="center" justify="space-between" gap="8px" color="mute" fontSize="12px">
      {formatFixed((value * lines) / 1080, 1)} of this clip’s pixels: too fine to be seen
      <Button small height="22px" px="7px" onClick={() => onEnlarge(minimum)}>
        {`Make it ${formatFixed(minimum, minimum % 1 ? 1 : 0)} px`}
      </Button>
    </Flex>
  );
}

import { Box, Flex } from "@chakra-ui/react";
import { duration } from "../model/duration";
import { Button } from "./Button";

/** How far work is, how fast, and how long it takes still; it can be stopped. */
export function ProgressLine({
  says,
  label,
  done,
  total,
  rate,
  unit = "frames",
  stop,
  small = false,
  onStop,
}: {
  /** What is done, before the numbers. */
  says: string;
  /** Of the bar, for those who do not see it. */
  label: string;
  done: number;
  total: number;
  /** Of which so many are done in a second. */
  rate: number;
  unit?: string;
  /** What becomes of what was found once it is stopped. */
  stop?: string;
  small?: boolean;
  onStop: () => void;
}) {
  const digits = small ? 0 : 1;
  const left = rate
    ? ` · ${rate.toFixed(digits)} ${unit}/s · ${duration((total - done) / rate)} left`
    : "";
  return (
    <Flex align="center" gap={small ? "8px" : "18px"} my={small ? "3px" : undefined}>
      <Box flex="1" fontSize={small ? "12px" : undefined}>
        <Box role="status">
          {says} {done} of {total}
          {left}
        </Box>
        <Box
          role="progressbar"
          aria-label={label}
          aria-valuenow={done}
          aria-valuemin={0}
          aria-valuemax={total}
          height={small ? "4px" : "6px"}
          borderRadius="3px"
          bg="line"
          mt={small ? undefined : "6px"}
          overflow="hidden"
        >
          <Box height="100%" bg="tide" style={{ width: `${(100 * done) / Math.max(total, 1)}%` }} />
        </Box>
      </Box>
      <Button small={small} type="button" title={stop} onClick={onStop}>
        Stop
      </Button>
    </Flex>
  );
}

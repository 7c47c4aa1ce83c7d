import { Box, Flex } from "@chakra-ui/react";
import { type ReactNode, useEffect, useRef } from "react";
import { shiftTime, showAllTime, useTimeView, zoomTime } from "../../store/timeView";
import { Button } from "../../ui/Button";
import { TimeButton } from "./TimeButton";

/** How much of what is shown a turn of the wheel moves along. */
const ALONG = 0.15;

/** What stands along time, as far as it is in view: enlarged about the play head by the wheel. */
export function TimeWindow({ children }: { children: ReactNode }) {
  const room = useRef<HTMLDivElement>(null);
  const { zoom, from } = useTimeView();
  useEffect(() => {
    const node = room.current;
    const wheel = (event: WheelEvent) => {
      event.preventDefault(); // the page itself never scrolls
      const along = event.shiftKey ? event.deltaY : event.deltaX;
      if (along) shiftTime(along < 0 ? -ALONG : ALONG);
      else if (event.deltaY) zoomTime(event.deltaY < 0 ? 1.5 : 1 / 1.5);
    };
    node?.addEventListener("wheel", wheel, { passive: false });
    return () => node?.removeEventListener("wheel", wheel);
  }, []);
  return (
    <Box flex="1" minW="0" position="relative" ref={room} css={{ overflowX: "clip" }}>
      <Box
        position="relative"
        data-time-zoom={zoom.toFixed(2)}
        style={{ width: `${100 * zoom}%`, left: `${-100 * zoom * from}%` }}
      >
        {children}
      </Box>
      <TimeZoom />
    </Box>
  );
}

/** Buttons that enlarge time about the play head. */
function TimeZoom() {
  const zoom = useTimeView((s) => s.zoom);
  return (
    <Flex
      role="group"
      aria-label="Zoom of time"
      position="absolute"
      top="8px"
      right="4px"
      gap="2px"
      opacity={zoom > 1 ? 1 : 0.35}
      _hover={{ opacity: 1 }}
      _focusWithin={{ opacity: 1 }}
    >
      {zoom > 1 && (
        <Button
          small
          type="button"
          height="24px"
          px="6px"
          title="Show the whole clip"
          onClick={showAllTime}
        >
          All
        </Button>
      )}
      <TimeButton
        label="Less time enlarged"
        title="Show more of the clip (wheel)"
        onClick={() => zoomTime(0.5)}
      >
        −
      </TimeButton>
      <TimeButton
        label="Time enlarged"
        title="Enlarge time about the play head (wheel)"
        onClick={() => zoomTime(2)}
      >
        +
      </TimeButton>
    </Flex>
  );
}

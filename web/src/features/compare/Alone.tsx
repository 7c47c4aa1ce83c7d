import { Flex } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";
import { timecode } from "../../model/timecode";
import { useBench } from "../../store/bench";
import { notice } from "../../store/notices";
import { usePlayHead } from "../../store/playHead";
import { leaveAlone } from "../../store/room";
import { Button } from "../../ui/Button";

const SEEN_MS = 2500;

/** With the picture alone, what leads back: seen while the pointer moves, or has the focus. */
export function Alone() {
  const clip = useBench((s) => s.clip);
  const time = useRef<HTMLSpanElement>(null);
  usePlayHead((frame) => {
    if (clip && time.current) time.current.textContent = timecode(frame, clip.rate);
  });
  const [seen, setSeen] = useState(true);
  useEffect(() => {
    let timer = setTimeout(() => setSeen(false), SEEN_MS);
    const onPointerMove = () => {
      setSeen(true);
      clearTimeout(timer);
      timer = setTimeout(() => setSeen(false), SEEN_MS);
    };
    window.addEventListener("pointermove", onPointerMove);
    return () => {
      clearTimeout(timer);
      window.removeEventListener("pointermove", onPointerMove);
    };
  }, []);
  const full = async () => {
    try {
      if (document.fullscreenElement) await document.exitFullscreen();
      else await document.documentElement.requestFullscreen();
    } catch {
      notice("picture", "This browser does not give the page the whole screen here.");
    }
  };
  return (
    <Flex
      role="group"
      aria-label="The picture alone"
      position="absolute"
      bottom="18px"
      left="50%"
      transform="translateX(-50%)"
      zIndex="4"
      gap="8px"
      align="center"
      bg="rgb(20 20 20 / 72%)"
      color="#f4f4f4"
      borderRadius="8px"
      px="10px"
      py="6px"
      opacity={seen ? 1 : 0}
      transition="opacity 0.3s"
      _focusWithin={{ opacity: 1 }}
    >
      {clip && <span ref={time} data-alone-time />}
      <Button small tone="wall" type="button" onClick={() => void full()}>
        Full screen
      </Button>
      <Button
        small
        tone="wall"
        type="button"
        title="Back to the bench (F, Esc)"
        onClick={leaveAlone}
      >
        Back to the bench
      </Button>
    </Flex>
  );
}

import { Box, chakra, Flex } from "@chakra-ui/react";
import { type PointerEvent, useCallback, useEffect, useRef, useState } from "react";
import { findStep } from "../../model/lookTree";
import { stepName } from "../../model/stepNames";
import { bench, setState, useBench } from "../../store/bench";
import { notice } from "../../store/notices";
import { setPreviewBox, shown, watchShown } from "../../store/previews";
import { valueAt } from "../../store/readings";
import { OWN } from "../../store/slices/compare";
import { Button } from "../../ui/Button";
import { Notices } from "../bench/Notices";
import { CompareColumn } from "./Compare";
import { Handles } from "./Handles";
import { pointAt, UnderPointer } from "./UnderPointer";

const Canvas = chakra("canvas");
const BLINK_MS = 700;

/** The picture on its wall of neutral grey, and the ways to compare it. */
export function Wall() {
  const clip = useBench((s) => s.clip);
  return (
    <Flex className="on-wall" flex="1" minW="0" bg="wall" color="wallInk">
      <CompareColumn />
      <Flex flex="1" minW="0" direction="column" pt="8px" position="relative">
        <Box position="absolute" top="10px" left="8px" right="8px" zIndex="5">
          <Notices where="clips" />
          <Notices where="look" />
          <Notices where="picture" />
        </Box>
        {clip ? <Picture /> : <NoClip />}
        <PickBar />
        <UnderPointer />
      </Flex>
    </Flex>
  );
}

function NoClip() {
  return (
    <Flex flex="1" align="center" justify="center" direction="column" gap="6px">
      <Box fontFamily="felt" fontStyle="italic" fontSize="22px">
        Drop a clip here
      </Box>
      <Box color="wallMute">or choose “Bring in a clip…” above.</Box>
    </Flex>
  );
}

/** Says what is to be picked from the picture, until it is. */
function PickBar() {
  const picking = useBench((s) => s.picking);
  if (!picking) return null;
  return (
    <Flex
      position="absolute"
      bottom="26px"
      left="50%"
      transform="translateX(-50%)"
      zIndex="4"
      bg="paper"
      color="ink"
      borderRadius="6px"
      px="12px"
      py="6px"
      gap="10px"
      align="center"
      role="status"
    >
      {picking.prompt}
      <Button small type="button" onClick={() => setState({ picking: null })}>
        Not now
      </Button>
    </Flex>
  );
}

async function pick(at: { x: number; y: number }) {
  const { picking } = bench();
  if (!picking) return;
  setState({ picking: null });
  try {
    picking.take(await valueAt(at, picking.after));
  } catch (error) {
    notice("picture", error);
  }
}

/** Draws what is wanted into one canvas, as large as the wall allows. */
function Picture() {
  const wall = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [room, setRoom] = useState({ width: 0, height: 0 });
  const [turn, setTurn] = useState(false);
  const clip = useBench((s) => s.clip);
  const look = useBench((s) => s.look);
  const compare = useBench((s) => s.compare);
  const holding = useBench((s) => s.holding);
  const wipe = useBench((s) => s.wipe);
  const centre = useBench((s) => s.centre);
  const trueSize = useBench((s) => s.trueSize);
  const base = useBench((s) => s.base);
  const snapshots = useBench((s) => s.snapshots);
  const gain = useBench((s) => s.gain);
  const weighed = useBench((s) => s.weighed);
  const open = useBench((s) => s.open);
  const frame = useBench((s) => s.frame);

  const clipWidth = clip?.width ?? 16;
  const clipHeight = clip?.height ?? 9;
  const fit = Math.min(room.width / clipWidth, room.height / clipHeight);
  const ratio = window.devicePixelRatio || 1;
  const width = trueSize ? Math.min(room.width, clipWidth / ratio) : clipWidth * fit;
  const height = trueSize ? Math.min(room.height, clipHeight / ratio) : clipHeight * fit;

  useEffect(() => {
    const node = wall.current;
    if (!node) return;
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setRoom({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    watch.observe(node);
    return () => watch.disconnect();
  }, []);

  useEffect(() => {
    if (width > 1) setPreviewBox(Math.floor(width * ratio), Math.floor(height * ratio));
  }, [width, height, ratio]);

  useEffect(() => {
    if (compare !== "blink") return;
    const still = window.matchMedia("(prefers-reduced-motion: reduce)").matches;
    const timer = setInterval(() => setTurn((t) => !t), still ? 3 * BLINK_MS : BLINK_MS);
    return () => {
      clearInterval(timer);
      setTurn(false);
    };
  }, [compare]);

  const draw = useCallback(() => {
    const node = canvas.current;
    const { result, base: other } = shown;
    if (!node || !result) return;
    const wide = Math.round(width * ratio);
    const tall = Math.round(height * ratio);
    if (node.width !== wide || node.height !== tall) {
      node.width = wide;
      node.height = tall;
    }
    const pen = node.getContext("2d");
    if (!pen) return;
    pen.imageSmoothingQuality = "high";
    const lay = (picture: ImageBitmap) => pen.drawImage(picture, 0, 0, wide, tall);
    if (other && (holding || (compare === "blink" && turn))) lay(other);
    else if (other && compare === "beside") {
      pen.clearRect(0, 0, wide, tall);
      const half = wide / 2 - 3;
      const high = (half * tall) / wide;
      pen.drawImage(other, 0, (tall - high) / 2, half, high);
      pen.drawImage(result, wide - half, (tall - high) / 2, half, high);
    } else {
      lay(result);
      if (other && compare === "wipe") {
        const cut = Math.round(wide * wipe);
        pen.save();
        pen.beginPath();
        pen.rect(0, 0, cut, tall);
        pen.clip();
        lay(other);
        pen.restore();
      }
    }
  }, [width, height, ratio, compare, holding, turn, wipe]);

  useEffect(() => {
    draw();
    return watchShown(draw);
  }, [draw]);

  const place = (event: PointerEvent) => {
    const rect = event.currentTarget.getBoundingClientRect();
    return {
      x: (event.clientX - rect.left) / rect.width,
      y: (event.clientY - rect.top) / rect.height,
    };
  };
  /** A place of the canvas as one of the whole picture: at 1:1 the canvas shows a window of it. */
  const onClip = ({ x, y }: { x: number; y: number }) => {
    if (!trueSize) return { x: limited(x), y: limited(y) };
    const wide = Math.min(width * ratio, clipWidth) / clipWidth;
    const tall = Math.min(height * ratio, clipHeight) / clipHeight;
    const left = Math.min(Math.max(centre.x - wide / 2, 0), 1 - wide);
    const top = Math.min(Math.max(centre.y - tall / 2, 0), 1 - tall);
    return { x: limited(left + x * wide), y: limited(top + y * tall) };
  };
  const drag = useRef<{ x: number; y: number; from: { x: number; y: number } } | null>(null);

  const baseStep = findStep(look?.steps ?? [], base);
  const kept = snapshots.find((s) => s.id === base);
  const baseSays =
    kept && !holding ? kept.name : holding || !baseStep ? "as shot" : `after ${stepName(baseStep)}`;
  const last = look?.steps.filter((s) => s.on).at(-1);
  const resultSays = last ? `after ${stepName(last)}` : "as shot";
  const both = compare === "wipe" || compare === "beside";
  const ownStep = base === OWN && !holding ? findStep(look?.steps ?? [], open) : undefined;
  const weighedStep = weighed ? findStep(look?.steps ?? [], weighed) : undefined;
  const single = weighedStep
    ? `where ${stepName(weighedStep)} shows`
    : holding || (compare === "blink" && turn)
      ? baseSays
      : compare === "change"
        ? `${ownStep ? `change by ${stepName(ownStep)} alone` : `change from ${baseSays}`}, × ${gain}`
        : resultSays;

  return (
    <Flex
      ref={wall}
      flex="1"
      minH="0"
      align="center"
      justify="center"
      mx="8px"
      position="relative"
      overflow="clip"
      css={{ overflowClipMargin: "12px" }}
    >
      <Box position="relative" style={{ width, height }}>
        <Canvas
          ref={canvas}
          role="img"
          aria-label={`Frame ${frame}: ${both ? `${baseSays} and ${resultSays}` : single}`}
          position="absolute"
          inset="0"
          width="100%"
          height="100%"
          cursor={trueSize ? "grab" : "crosshair"}
          style={{ touchAction: "none" }}
          onPointerDown={(event) => {
            if (bench().picking) {
              void pick(onClip(place(event)));
              return;
            }
            event.currentTarget.setPointerCapture(event.pointerId);
            if (trueSize)
              drag.current = { x: event.clientX, y: event.clientY, from: bench().centre };
          }}
          onPointerMove={(event) => {
            const at = drag.current;
            if (at && trueSize) {
              const x = at.from.x - ((event.clientX - at.x) * ratio) / clipWidth;
              const y = at.from.y - ((event.clientY - at.y) * ratio) / clipHeight;
              setState({
                centre: { x: Math.min(Math.max(x, 0), 1), y: Math.min(Math.max(y, 0), 1) },
              });
            } else {
              if (!trueSize) pointer.at = place(event);
              pointAt(compare === "beside" ? null : onClip(place(event)));
            }
          }}
          onPointerLeave={() => pointAt(null)}
          onPointerUp={() => {
            drag.current = null;
          }}
        />
        {!trueSize && !holding && compare !== "beside" && <Handles width={width} height={height} />}
        {compare === "wipe" && !holding && <WipeLine />}
        {both && !holding ? (
          <>
            <Label left>{baseSays}</Label>
            <Label>{resultSays}</Label>
          </>
        ) : (
          (compare !== "plain" || holding || weighedStep) && <Label left>{single}</Label>
        )}
      </Box>
    </Flex>
  );
}

const limited = (part: number) => Math.min(Math.max(part, 0), 1);

/** Where the pointer is on the picture, in parts of it: 1:1 looks there. */
export const pointer = { at: { x: 0.5, y: 0.5 } };

function Label({ children, left }: { children: string; left?: boolean }) {
  return (
    <Box
      position="absolute"
      bottom="8px"
      left={left ? "8px" : undefined}
      right={left ? undefined : "8px"}
      px="8px"
      py="3px"
      borderRadius="4px"
      bg="rgb(20 20 20 / 78%)"
      color="#f4f4f4"
      fontSize="12px"
      pointerEvents="none"
    >
      {children}
    </Box>
  );
}

function WipeLine() {
  const wipe = useBench((s) => s.wipe);
  const line = useRef<HTMLDivElement>(null);
  const move = (x: number) => setState({ wipe: Math.min(Math.max(x, 0), 1) });
  return (
    <Box
      ref={line}
      role="slider"
      tabIndex={0}
      aria-label="Wipe"
      aria-valuenow={Math.round(wipe * 100)}
      aria-valuemin={0}
      aria-valuemax={100}
      position="absolute"
      top="0"
      bottom="0"
      width="18px"
      ml="-9px"
      cursor="ew-resize"
      style={{ left: `${wipe * 100}%`, touchAction: "none" }}
      _before={{
        content: '""',
        position: "absolute",
        left: "8px",
        top: 0,
        bottom: 0,
        width: "2px",
        bg: "#ffffff",
      }}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        const rect = line.current?.parentElement?.getBoundingClientRect();
        if (rect && event.currentTarget.hasPointerCapture(event.pointerId))
          move((event.clientX - rect.left) / rect.width);
      }}
      onKeyDown={(event) => {
        const by = event.key === "ArrowLeft" ? -0.01 : event.key === "ArrowRight" ? 0.01 : 0;
        if (by) {
          move(wipe + by * (event.shiftKey ? 10 : 1));
          event.preventDefault();
          event.stopPropagation();
        }
      }}
    />
  );
}

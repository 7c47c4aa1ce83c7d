import { Box, chakra, Flex } from "@chakra-ui/react";
import { type PointerEvent, useCallback, useEffect, useRef, useState } from "react";
import { Key } from "../controls/Key";
import {
  AS_SHOT,
  bench,
  COMPARES,
  type Compare,
  put,
  titled,
  treatmentOf,
  useBench,
} from "../state/bench";
import { setBox, shown, watchShown } from "../state/pictures";
import { Notices } from "./Notices";

const Canvas = chakra("canvas");
const Select = chakra("select");
const BLINK_MS = 700;

const says: Record<Compare, string> = {
  plain: "The result alone",
  wipe: "Result and comparison, divided by a line you drag",
  blink: "Result and comparison by turns",
  beside: "Result and comparison side by side",
};

/** The picture on its wall of neutral grey, and the ways to compare it. */
export function Wall() {
  const compare = useBench((s) => s.compare);
  const trueSize = useBench((s) => s.trueSize);
  const clip = useBench((s) => s.clip);
  return (
    <Flex className="on-wall" flex="1" minW="0" bg="wall" color="wallInk">
      <Flex direction="column" width="112px" flex="none" p="12px" gap="6px">
        <Flex direction="column" gap="6px" role="group" aria-label="Compare">
          {COMPARES.map((way) => (
            <Key
              key={way}
              small
              type="button"
              tone={compare === way ? "wallOn" : "wall"}
              aria-pressed={compare === way}
              title={says[way]}
              onClick={() => put({ compare: way })}
            >
              {titled(way)}
            </Key>
          ))}
        </Flex>
        {compare !== "plain" && <BaseChoice />}
        <Flex direction="column" gap="6px" role="group" aria-label="Size" mt="10px">
          <Key
            small
            type="button"
            tone={trueSize ? "wall" : "wallOn"}
            aria-pressed={!trueSize}
            onClick={() => put({ trueSize: false })}
          >
            Fit
          </Key>
          <Key
            small
            type="button"
            tone={trueSize ? "wallOn" : "wall"}
            aria-pressed={trueSize}
            title="True pixels of the full-size result, at the place under the pointer (Z)"
            onClick={() => put({ trueSize: true })}
          >
            1 : 1
          </Key>
        </Flex>
        <Box flex="1" />
        <Box fontSize="12px" color="wallMute">
          {trueSize ? "Drag to move" : "Hold B for the footage"}
        </Box>
      </Flex>
      <Flex flex="1" minW="0" direction="column" py="8px" position="relative">
        <Box position="absolute" top="10px" left="8px" right="8px" zIndex="5">
          <Notices where="clips" />
          <Notices where="look" />
          <Notices where="picture" />
        </Box>
        {clip ? <Picture /> : <NoClip />}
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

function BaseChoice() {
  const look = useBench((s) => s.look);
  const base = useBench((s) => s.base);
  return (
    <Select
      aria-label="Compare with"
      title="What it is compared with"
      value={base}
      onChange={(event) => put({ base: event.target.value })}
      height="26px"
      fontSize="12px"
      bg="wallKey"
      color="wallInk"
      borderRadius="6px"
      px="4px"
    >
      <option value={AS_SHOT}>as shot</option>
      {look?.steps.map((step) => (
        <option key={step.id} value={step.id}>
          after {titled(step.treatment)}
        </option>
      ))}
    </Select>
  );
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
  const trueSize = useBench((s) => s.trueSize);
  const base = useBench((s) => s.base);
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
    if (width > 1) setBox(Math.floor(width * ratio), Math.floor(height * ratio));
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
  const drag = useRef<{ x: number; y: number; from: { x: number; y: number } } | null>(null);

  const baseStep = look?.steps.find((s) => s.id === base);
  const baseSays = holding || !baseStep ? "as shot" : `after ${titled(baseStep.treatment)}`;
  const last = look?.steps.filter((s) => s.on).at(-1);
  const resultSays = last ? `after ${titled(treatmentOf(last)?.kind ?? "")}` : "as shot";
  const both = compare === "wipe" || compare === "beside";
  const single = holding || (compare === "blink" && turn) ? baseSays : resultSays;

  return (
    <Flex
      ref={wall}
      flex="1"
      minH="0"
      align="center"
      justify="center"
      mx="8px"
      position="relative"
      overflow="hidden"
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
            event.currentTarget.setPointerCapture(event.pointerId);
            if (trueSize)
              drag.current = { x: event.clientX, y: event.clientY, from: bench().centre };
          }}
          onPointerMove={(event) => {
            const at = drag.current;
            if (at && trueSize) {
              const x = at.from.x - ((event.clientX - at.x) * ratio) / clipWidth;
              const y = at.from.y - ((event.clientY - at.y) * ratio) / clipHeight;
              put({ centre: { x: Math.min(Math.max(x, 0), 1), y: Math.min(Math.max(y, 0), 1) } });
            } else if (!trueSize) pointer.at = place(event);
          }}
          onPointerUp={() => {
            drag.current = null;
          }}
        />
        {compare === "wipe" && !holding && <WipeLine />}
        {both && !holding ? (
          <>
            <Label left>{baseSays}</Label>
            <Label>{resultSays}</Label>
          </>
        ) : (
          (compare !== "plain" || holding) && <Label left>{single}</Label>
        )}
      </Box>
    </Flex>
  );
}

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
  const move = (x: number) => put({ wipe: Math.min(Math.max(x, 0), 1) });
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

import { Box, chakra, Flex } from "@chakra-ui/react";
import {
  type PointerEvent,
  useCallback,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import { drawnAt, type Extent, onPicture, type Place, viewport } from "../../model/viewport";
import { bench, setState, useBench } from "../../store/bench";
import { notice } from "../../store/notices";
import { usePlayHead } from "../../store/playHead";
import { type Placed, setWanted, shown, watchShown } from "../../store/previews";
import { valueAt } from "../../store/readings";
import { pointedAt, standsAs, zoomBy } from "../../store/zoom";
import { useExtent } from "../../ui/useExtent";
import { Handles } from "./Handles";
import { useSays } from "./says";
import { pointAt } from "./UnderPointer";
import { WipeLine } from "./WipeLine";

const Canvas = chakra("canvas");
const BLINK_MS = 700;
/** CSS pixels between two pictures beside each other. */
const GAP = 6;
const ORIGIN: Place = { x: 0, y: 0 };
/** From here on a pixel of the footage is drawn as a square. */
const SQUARES = 2;

/** Two rooms for pictures beside each other, or above, whichever shows them larger. */
function halves(room: Extent, picture: Extent): { rooms: Place[]; size: Extent } {
  const sideBySide = { width: Math.floor((room.width - GAP) / 2), height: room.height };
  const stacked = { width: room.width, height: Math.floor((room.height - GAP) / 2) };
  const fitRatio = (r: Extent) => Math.min(r.width / picture.width, r.height / picture.height);
  return fitRatio(sideBySide) >= fitRatio(stacked)
    ? {
        rooms: [
          { x: 0, y: 0 },
          { x: sideBySide.width + GAP, y: 0 },
        ],
        size: sideBySide,
      }
    : {
        rooms: [
          { x: 0, y: 0 },
          { x: 0, y: stacked.height + GAP },
        ],
        size: stacked,
      };
}

/** Where one picture, or two, stand: their rooms, the view in each, and the canvas around them. */
function layOut(
  { width, height }: Extent,
  picture: Extent,
  two: boolean,
  ratio: number,
  zoom: number | null,
  centre: Place,
) {
  const room = { width: Math.floor(width), height: Math.floor(height) }; // whole pixels are sharp
  const { rooms, size } = two ? halves(room, picture) : { rooms: [ORIGIN], size: room };
  const view = viewport(size, picture, ratio, zoom, centre);
  const sight = {
    left: Math.max(view.left, 0),
    top: Math.max(view.top, 0),
    width: Math.round(Math.min(view.width, size.width)),
    height: Math.round(Math.min(view.height, size.height)),
  };
  const last = rooms.at(-1) ?? ORIGIN;
  const box = { ...sight, width: sight.width + last.x, height: sight.height + last.y };
  return { rooms, size, view, sight, box };
}

async function pick(at: Place) {
  const { picking } = bench();
  if (!picking) return;
  setState({ picking: null });
  try {
    picking.take(await valueAt(at, picking.after));
  } catch (error) {
    notice("picture", error);
  }
}

/** Result and comparison by turns. */
function useBlink(): boolean {
  const blinking = useBench((s) => s.compare === "blink");
  const [turn, setTurn] = useState(false);
  useEffect(() => {
    if (!blinking) return;
    const still = window.matchMedia("(prefers-reduced-motion: reduce)").matches;
    const timer = setInterval(() => setTurn((t) => !t), still ? 3 * BLINK_MS : BLINK_MS);
    return () => {
      clearInterval(timer);
      setTurn(false);
    };
  }, [blinking]);
  return turn;
}

/** Draws what is wanted into one canvas, fitted to the wall or zoomed. */
export function Picture() {
  const wall = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const room = useExtent(wall);
  const turn = useBlink();
  const clip = useBench((s) => s.clip);
  const compare = useBench((s) => s.compare);
  const holding = useBench((s) => s.holding);
  const wipe = useBench((s) => s.wipe);
  const centre = useBench((s) => s.centre);
  const zoom = useBench((s) => (s.playing ? null : s.zoom));
  const says = useSays(turn);
  usePlayHead((frame) => canvas.current?.setAttribute("aria-label", `Frame ${frame}: ${says.all}`));
  const ratio = window.devicePixelRatio || 1;
  const { width: wide, height: high } = clip ?? { width: 16, height: 9 };
  const two = compare === "beside" && !holding;

  const { rooms, size, view, sight, box } = useMemo(
    () => layOut(room, { width: wide, height: high }, two, ratio, zoom, centre),
    [room, two, wide, high, ratio, zoom, centre],
  );
  const last = rooms.at(-1) ?? ORIGIN;

  useEffect(() => {
    if (size.width < 2) return;
    const fitted = Math.min(size.height, (size.width * high) / wide);
    standsAs({ room: size, ratio, view });
    setWanted({
      fit: Math.floor(fitted * ratio),
      lines: zoom === null ? Math.floor(fitted * ratio) : Math.min(zoom * high, high),
      part: view.seen,
    });
  }, [size, view, zoom, ratio, wide, high]);

  const draw = useCallback(() => {
    const node = canvas.current;
    const { result, base: other } = shown;
    if (!node || !result) return;
    const all = { width: Math.round(box.width * ratio), height: Math.round(box.height * ratio) };
    if (node.width !== all.width || node.height !== all.height) Object.assign(node, all);
    const pen = node.getContext("2d");
    if (!pen) return;
    pen.imageSmoothingQuality = bench().playing ? "low" : "high"; // where there is no GPU it costs
    const seen = {
      width: Math.round(sight.width * ratio),
      height: Math.round(sight.height * ratio),
    };
    const lay = ({ picture, part }: Placed, at: Place = { x: 0, y: 0 }, until = seen.width) => {
      const to = drawnAt(part, view.seen, seen);
      const [x, y] = [Math.round(at.x * ratio), Math.round(at.y * ratio)];
      pen.save();
      pen.beginPath();
      pen.rect(x, y, until, seen.height);
      pen.clip();
      pen.clearRect(x, y, until, seen.height);
      pen.imageSmoothingEnabled = to.width < SQUARES * picture.width;
      pen.drawImage(picture, x + to.x, y + to.y, to.width, to.height);
      pen.restore();
    };
    if (other && two) {
      pen.clearRect(0, 0, all.width, all.height);
      lay(other, rooms[0]);
      lay(result, rooms[1]);
    } else if (other && (holding || (compare === "blink" && turn))) lay(other);
    else {
      lay(result);
      if (other && compare === "wipe") lay(other, undefined, Math.round(seen.width * wipe));
    }
  }, [box, sight, view, rooms, ratio, two, compare, holding, turn, wipe]);

  useLayoutEffect(() => {
    draw();
    return watchShown(draw);
  }, [draw]);

  const inRoom = (event: { clientX: number; clientY: number }): Place => {
    const rect = wall.current?.getBoundingClientRect();
    return { x: event.clientX - (rect?.left ?? 0), y: event.clientY - (rect?.top ?? 0) };
  };
  const drag = useRef<{ x: number; y: number; from: Place } | null>(null);
  const pan = (event: PointerEvent) => {
    const at = drag.current;
    if (!at) return;
    const x = at.from.x - (event.clientX - at.x) / view.width;
    const y = at.from.y - (event.clientY - at.y) / view.height;
    setState({ centre: { x: Math.min(Math.max(x, 0), 1), y: Math.min(Math.max(y, 0), 1) } });
  };
  const larger = view.seen.width < 1 || view.seen.height < 1;

  useEffect(() => {
    const node = wall.current;
    const wheel = (event: WheelEvent) => {
      event.preventDefault(); // the page itself never scrolls or zooms
      if (event.deltaY) zoomBy(event.deltaY < 0 ? 1 : -1);
    };
    node?.addEventListener("wheel", wheel, { passive: false });
    return () => node?.removeEventListener("wheel", wheel);
  }, []);

  return (
    <Flex
      ref={wall}
      flex="1"
      minH="0"
      mx="6px"
      my="6px"
      position="relative"
      overflow="clip"
      css={{ overflowClipMargin: "6px" }}
    >
      <Box position="absolute" style={{ ...box }}>
        <Canvas
          ref={canvas}
          role="img"
          data-zoom={view.zoom.toFixed(3)}
          position="absolute"
          inset="0"
          width="100%"
          height="100%"
          cursor={larger ? "grab" : "crosshair"}
          style={{ touchAction: "none" }}
          onPointerDown={(event) => {
            if (bench().picking) {
              void pick(onPicture(view, inRoom(event)));
              return;
            }
            event.currentTarget.setPointerCapture(event.pointerId);
            if (larger) drag.current = { x: event.clientX, y: event.clientY, from: bench().centre };
          }}
          onPointerMove={(event) => {
            if (drag.current) return pan(event);
            const at = inRoom(event);
            const place = onPicture(view, at);
            if (!two) pointedAt(at);
            pointAt(two ? null : place);
          }}
          onPointerLeave={() => {
            pointAt(null);
            pointedAt(null);
          }}
          onPointerUp={() => {
            drag.current = null;
          }}
        />
        {!holding && !two && (
          <Box
            position="absolute"
            pointerEvents="none"
            style={{
              left: view.left - sight.left,
              top: view.top - sight.top,
              width: view.width,
              height: view.height,
            }}
          >
            <Handles width={view.width} height={view.height} />
          </Box>
        )}
        {compare === "wipe" && !holding && <WipeLine />}
        {says.base && <Label at={{ left: 8, bottom: last.y + 8 }}>{says.base}</Label>}
        {says.result && (
          <Label at={two ? { left: last.x + 8, bottom: 8 } : { right: 8, bottom: 8 }}>
            {says.result}
          </Label>
        )}
      </Box>
    </Flex>
  );
}

function Label({ children, at }: { children: string; at: Record<string, number> }) {
  return (
    <Box
      position="absolute"
      style={at}
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

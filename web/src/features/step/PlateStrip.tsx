import { Box, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { type PointerEvent, useRef, useState } from "react";
import { api, unwrap } from "../../api/client";
import { Button } from "../../ui/Button";

const Svg = chakra("svg");
const Input = chakra("input");
const Image = chakra("img");

export type Spans = [number, number][];

const HIGH = 40;

/** Pictures on the strip: as few frames are shown one by one. */
const PICTURES = 8;

/** How much closer a step of zoom goes. */
const ZOOM = 3;

const SMALL = { small: true, type: "button", height: "22px", px: "7px" } as const;

const NUMBER = {
  fontSize: 11,
  fill: "#ffffff",
  stroke: "#262524",
  strokeWidth: 2.5,
  paintOrder: "stroke",
} as const;

/** Spans in words: `31, 40-44`. */
const spanWords = (spans: Spans) =>
  spans.map(([a, b]) => (a === b ? `${a}` : `${a}-${b}`)).join(", ");

/** Spans from words; null where they can't be read. */
function read(words: string): Spans | null {
  const spans: Spans = [];
  for (const part of words.split(/[,;]/).filter((p) => p.trim())) {
    const found = /^\s*(\d+)\s*(?:[-–]\s*(\d+))?\s*$/.exec(part);
    if (!found) return null;
    const ends = [Number(found[1]), Number(found[2] ?? found[1])].sort((a, b) => a - b);
    spans.push(ends as [number, number]);
  }
  return mergeSpans(spans);
}

/** Spans in order, those that touch as one. */
function mergeSpans(spans: Spans): Spans {
  const out: Spans = [];
  for (const [a, b] of [...spans].sort((p, q) => p[0] - q[0])) {
    const last = out.at(-1);
    if (last && a <= last[1] + 1) last[1] = Math.max(last[1], b);
    else out.push([a, b]);
  }
  return out;
}

/** The plate's frames: what is left out of them is marked by dragging, or typed. */
export function PlateStrip({
  file,
  frames,
  first,
  last,
  skip,
  width,
  onUse,
  onSkip,
}: {
  file: string;
  frames: number;
  first: number;
  last: number;
  skip: Spans;
  width: number;
  /** From one frame to another; null for all. */
  onUse: (span: [number, number] | null) => void;
  onSkip: (spans: Spans) => void;
}) {
  const drawing = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<[number, number] | null>(null);
  const [near, setNear] = useState<[number, number]>([0, frames]);
  const odd = useOddFrames(file);
  const [begin, shown] = [Math.min(near[0], frames - 1), Math.min(near[1], frames)];
  const x = (frame: number) => (width * (frame - begin)) / shown;
  const at = (event: PointerEvent) => {
    const left = drawing.current?.getBoundingClientRect().left ?? 0;
    const frame = begin + Math.floor(((event.clientX - left) * shown) / width);
    return Math.min(Math.max(frame, begin), begin + shown - 1);
  };
  const move = (from: number, count: number) =>
    setNear([Math.round(Math.min(Math.max(from, 0), frames - count)), count]);
  const zoom = (count: number) => move(begin + (shown - count) / 2, count);
  const single = shown <= PICTURES ? [...Array(shown).keys()].map((i) => begin + i) : [];
  const closer = Math.max(Math.ceil(shown / ZOOM), Math.min(PICTURES, frames));
  const drawn: Spans = drag ? [[Math.min(...drag), Math.max(...drag)]] : [];
  return (
    <Box width={`${width}px`}>
      <Box position="relative" height={`${HIGH}px`} bg="wall" borderRadius="3px" overflow="hidden">
        <Image
          key={`${file} ${begin} ${shown}`}
          src={`/api/v1/plates/${encodeURIComponent(file)}/strip?count=${PICTURES}&first=${begin}&last=${begin + shown - 1}`}
          alt=""
          width="100%"
          height="100%"
          objectFit="fill"
          draggable={false}
        />
        <Svg
          ref={drawing}
          position="absolute"
          inset="0"
          width="100%"
          height="100%"
          cursor="crosshair"
          style={{ touchAction: "none" }}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            setDrag([at(event), at(event)]);
          }}
          onPointerMove={(event) => drag && setDrag([drag[0], at(event)])}
          onPointerUp={() => {
            const [span] = drawn;
            setDrag(null);
            if (!span) return;
            const hit = skip.find(([a, b]) => span[0] === span[1] && a <= span[0] && span[0] <= b);
            onSkip(hit ? skip.filter((s) => s !== hit) : mergeSpans([...skip, span]));
          }}
          onPointerCancel={() => setDrag(null)}
        >
          <title>Drag over frames to leave them out; click what is left out to have it back</title>
          {[
            [0, first],
            [last + 1, frames],
          ].map(([a, b]) => (
            <rect
              key={`${a}`}
              x={x(a ?? 0)}
              width={Math.max(x(b ?? 0) - x(a ?? 0), 0)}
              height={HIGH}
              fill="#000000"
              opacity="0.6"
            />
          ))}
          {odd.spans.map(([a, b]) => (
            <rect
              key={`odd ${a}`}
              data-odd={`${a} ${b}`}
              x={x(a)}
              width={Math.max(x(b + 1) - x(a), 2)}
              height="4"
              fill="#ffffff"
              stroke="#262524"
            />
          ))}
          {single.map((frame) => (
            <text key={frame} x={x(frame) + 4} y={HIGH - 5} {...NUMBER}>
              {frame}
            </text>
          ))}
          {[...skip, ...drawn].map(([a, b]) => (
            <g key={`${a} ${b}`} data-skipped={`${a} ${b}`}>
              <chakra.rect
                x={x(a)}
                width={Math.max(x(b + 1) - x(a), 2)}
                height={HIGH}
                fill="ember"
                opacity="0.7"
              />
              <line x1={x(a)} y1={HIGH} x2={x(b + 1)} y2="0" stroke="#ffffff" strokeWidth="1.5" />
            </g>
          ))}
        </Svg>
      </Box>
      <Flex align="center" gap="4px" mt="4px">
        {frames > PICTURES && (
          <>
            <Button
              {...SMALL}
              aria-label="Earlier frames"
              disabled={begin === 0}
              onClick={() => move(begin - shown, shown)}
            >
              ‹
            </Button>
            <Button
              {...SMALL}
              aria-label="More frames"
              disabled={shown === frames}
              onClick={() => zoom(Math.min(shown * ZOOM, frames))}
            >
              −
            </Button>
            <Button
              {...SMALL}
              aria-label="Closer, to single frames"
              disabled={closer === shown}
              onClick={() => zoom(closer)}
            >
              +
            </Button>
            <Button
              {...SMALL}
              aria-label="Later frames"
              disabled={begin + shown >= frames}
              onClick={() => move(begin + shown, shown)}
            >
              ›
            </Button>
          </>
        )}
        <Odd
          {...odd}
          left={odd.spans.filter(([a, b]) => !skip.some(([c, d]) => c <= a && b <= d))}
          onSkip={(spans) => onSkip(mergeSpans([...skip, ...spans]))}
        />
      </Flex>
      <Flex align="center" gap="6px" mt="4px">
        Use
        <SpansField
          label="Frames to use"
          placeholder="all"
          width="76px"
          value={first === 0 && last === frames - 1 ? [] : [[first, last]]}
          maximum={1}
          onTake={([span]) => onUse(span ?? null)}
        />
        skip
        <SpansField
          label="Frames to skip"
          placeholder="drag above, or type 31, 40-44"
          value={skip}
          onTake={onSkip}
        />
      </Flex>
    </Box>
  );
}

/** What was found of frames unlike those about them; they are looked for when asked. */
function useOddFrames(file: string) {
  const { data, isFetching, isError, refetch } = useQuery({
    queryKey: ["odd frames", file],
    queryFn: () =>
      unwrap(api.GET("/api/v1/plates/{file}/odd-frames", { params: { path: { file } } })),
    enabled: false,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return {
    spans: (data?.spans ?? []).map(({ first, last }): [number, number] => [first, last]),
    looked: data !== undefined,
    looking: isFetching,
    failed: isError,
    look: () => void refetch(),
  };
}

/** Odd frames are looked for, told, and offered to be skipped. */
function Odd({
  looked,
  looking,
  failed,
  left,
  spans,
  look,
  onSkip,
}: ReturnType<typeof useOddFrames> & { left: Spans; onSkip: (spans: Spans) => void }) {
  if (!looked)
    return (
      <Button
        {...SMALL}
        title="Frames unlike those before and after them, as cue marks, splices and slates are"
        disabled={looking}
        onClick={look}
      >
        {looking ? "Looking…" : failed ? "Odd frames: try again" : "Find odd frames"}
      </Button>
    );
  if (!left.length)
    return (
      <Box color="mute" fontSize="12px">
        {spans.length ? "odd frames are skipped" : "no odd frames"}
      </Box>
    );
  return (
    <>
      <Box color="mute" fontSize="12px" flex="1" minW="0" truncate title={spanWords(left)}>
        odd: {spanWords(left)}
      </Box>
      <Button {...SMALL} onClick={() => onSkip(left)}>
        Skip {left.length === 1 ? "it" : "them"}
      </Button>
    </>
  );
}

/** Spans of frames, typed: `31, 40-44`. */
function SpansField({
  label,
  placeholder,
  value,
  maximum = Number.POSITIVE_INFINITY,
  width,
  onTake,
}: {
  label: string;
  placeholder: string;
  value: Spans;
  maximum?: number;
  width?: string;
  onTake: (spans: Spans) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const spans = typed === null ? value : read(typed);
  const wrong = spans === null || spans.length > maximum;
  const take = () => {
    if (typed !== null && spans && !wrong) onTake(spans);
    setTyped(null);
  };
  return (
    <Input
      aria-label={label}
      aria-invalid={wrong}
      placeholder={placeholder}
      value={typed ?? spanWords(value)}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === "Enter") take();
        if (event.key === "Escape") setTyped(null);
      }}
      width={width}
      flex={width ? "none" : "1"}
      minW="0"
      height="24px"
      px="6px"
      bg="sheet"
      borderWidth="1px"
      borderColor={wrong ? "ember" : "line"}
      borderRadius="4px"
    />
  );
}

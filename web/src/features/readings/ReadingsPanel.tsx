import { Box, chakra, Flex } from "@chakra-ui/react";
import { type ReactNode, useEffect, useRef, useState } from "react";
import type { Drawing, Readings } from "../../api/client";
import { allSteps } from "../../model/lookTree";
import { stepName } from "../../model/stepNames";
import { useBench } from "../../store/bench";
import { useReadings } from "../../store/readings";
import { FOOTAGE } from "../../store/slices/compare";
import { ChoiceButtons } from "../../ui/ChoiceButtons";
import { HistogramPath } from "../../ui/Histogram";
import { MemoryLine } from "./MemoryLine";
import { SteadyReading } from "./SteadyReading";

const Select = chakra("select");

/** Of a drawing of light, and of the round of hues, in CSS pixels; the width is what there is. */
const TALL = 84;
const WIDE = 276;

type Light = "waveform" | "parade" | "histogram";
const LIGHTS: [Light, string, string][] = [
  ["waveform", "luma", "Waveform: luma from left to right of the picture"],
  ["parade", "R G B", "Parade: red, green and blue beside each other"],
  ["histogram", "counts", "Histogram: how often each value comes"],
];

/** What the result measures: its light, its hues, and what a display can't show. */
export function ReadingsPanel() {
  const steps = allSteps(useBench((s) => s.look?.steps) ?? []);
  const [of, setOf] = useState<string | null>(null);
  const after = of === FOOTAGE || steps.some((s) => s.id === of) ? of : null;
  const readings = useReadings(after);
  const [light, setLight] = useState<Light>("waveform");
  return (
    <Flex direction="column" gap="8px">
      <Box>
        <Flex align="center" gap="4px" mb="4px" wrap="wrap">
          <Box flex="1" whiteSpace="nowrap">
            {light === "histogram" ? "Light, dark to bright" : "Light, left to right"}
          </Box>
          <Flex gap="4px">
            <ChoiceButtons
              choices={LIGHTS.map(([value, word, hint]) => ({ value, word, hint }))}
              chosen={light}
              ground="wall"
              height="24px"
              px="7px"
              onChoose={setLight}
            />
          </Flex>
        </Flex>
        {light === "histogram" ? (
          <Counts readings={readings} />
        ) : (
          <Wave readings={readings} drawing={readings?.[light]} label={light} />
        )}
      </Box>
      <Box>
        <Flex justify="space-between" gap="8px" mb="4px" whiteSpace="nowrap" overflow="hidden">
          <Box>Hue</Box>
          <Box color="wallMute" truncate title="Vectorscope: BT.709, the boxes at 75 %">
            BT.709, 75 %
          </Box>
        </Flex>
        <Vectors readings={readings} />
      </Box>
      <SteadyReading />
      <Beyond readings={readings} />
      <Flex align="center" gap="8px" fontSize="12px">
        <Box color="wallMute">measured</Box>
        <Select
          aria-label="Scopes of"
          value={after ?? ""}
          onChange={(event) => setOf(event.target.value || null)}
          height="24px"
          flex="1 1 90px"
          minW="0"
          bg="wallKey"
          color="wallInk"
          borderRadius="4px"
          px="5px"
        >
          <option value="">of the result</option>
          <option value={FOOTAGE}>as shot</option>
          {steps.map((step) => (
            <option key={step.id} value={step.id}>
              after {stepName(step)}
            </option>
          ))}
        </Select>
      </Flex>
      <MemoryLine />
    </Flex>
  );
}

/** Brightness drawn as it is: neutral, for nothing near the picture is coloured. */
function useDrawn(drawing: Drawing | undefined) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const node = canvas.current;
    const pen = node?.getContext("2d");
    if (!node || !pen || !drawing) return;
    node.width = drawing.width;
    node.height = drawing.height;
    const bytes = Uint8Array.from(atob(drawing.data), (c) => c.charCodeAt(0));
    const image = pen.createImageData(drawing.width, drawing.height);
    bytes.forEach((light, i) => {
      image.data.set([236, 236, 232, light], 4 * i);
    });
    pen.putImageData(image, 0, 0);
  }, [drawing]);
  return canvas;
}

function Frame({
  width = "100%",
  height,
  children,
}: {
  width?: number | string;
  height: number;
  children: ReactNode;
}) {
  return (
    <Box
      position="relative"
      bg="#2a2a2a"
      borderRadius="4px"
      overflow="hidden"
      mx="auto"
      style={{ width, height }}
    >
      {children}
    </Box>
  );
}

const FILL = { position: "absolute", inset: 0, width: "100%", height: "100%" } as const;

function Wave({
  readings,
  drawing,
  label,
}: {
  readings: Readings | undefined;
  drawing: Drawing | undefined;
  label: string;
}) {
  const canvas = useDrawn(drawing);
  const { low = -0.1, high = 1.1 } = readings ?? {};
  const level = (value: number) => (1 - (value - low) / (high - low)) * TALL;
  return (
    <Frame height={TALL}>
      <svg style={FILL} aria-hidden="true">
        {[0, 0.25, 0.5, 0.75, 1].map((v) => (
          <g key={v}>
            <line
              x2="100%"
              y1={level(v)}
              y2={level(v)}
              stroke="#8a8a8a"
              strokeWidth={v === 0 || v === 1 ? 1 : 0.5}
              strokeDasharray={v === 0 || v === 1 ? undefined : "2 4"}
            />
            {(v === 0 || v === 1) && (
              <text x={3} y={level(v) + (v ? 10 : -3)} fill="#c8c8c8" fontSize="9">
                {100 * v} %
              </text>
            )}
          </g>
        ))}
      </svg>
      <canvas ref={canvas} style={FILL} role="img" aria-label={`Reading: ${label}`} />
    </Frame>
  );
}

function Counts({ readings }: { readings: Readings | undefined }) {
  return (
    <Frame height={TALL}>
      <svg
        style={FILL}
        viewBox={`0 0 ${WIDE} ${TALL}`}
        preserveAspectRatio="none"
        role="img"
        aria-label="Reading: histogram"
        color="#ececec"
      >
        <g color="#ececec" fill="#ececec">
          {[0, 1, 2, 3].map((channel) => (
            <HistogramPath
              key={channel}
              counts={readings?.histogram}
              channel={channel}
              width={WIDE}
              height={TALL}
              light
            />
          ))}
        </g>
      </svg>
    </Frame>
  );
}

const ROUND = 132;

function Vectors({ readings }: { readings: Readings | undefined }) {
  const canvas = useDrawn(readings?.vectors);
  const skin = ((readings?.skin ?? 123) * Math.PI) / 180;
  const middle = ROUND / 2;
  return (
    <Frame width={ROUND} height={ROUND}>
      <svg style={FILL} aria-hidden="true">
        <circle cx={middle} cy={middle} r={middle * 0.88} fill="none" stroke="#6a6a6a" />
        <line x1={middle} x2={middle} y2={ROUND} stroke="#6a6a6a" strokeWidth="0.5" />
        <line y1={middle} y2={middle} x2={ROUND} stroke="#6a6a6a" strokeWidth="0.5" />
        <line
          x1={middle}
          y1={middle}
          x2={middle + 0.88 * middle * Math.cos(skin)}
          y2={middle - 0.88 * middle * Math.sin(skin)}
          stroke="#a8a8a8"
          strokeDasharray="4 3"
        />
        <text
          x={middle + 0.7 * middle * Math.cos(skin) - 20}
          y={middle - 0.7 * middle * Math.sin(skin) - 4}
          fill="#c8c8c8"
          fontSize="9"
        >
          skin
        </text>
        {readings?.targets.map((t) => (
          <g key={t.name} transform={`translate(${t.x * ROUND} ${t.y * ROUND})`}>
            <rect x="-4" y="-4" width="8" height="8" fill="none" stroke="#c8c8c8" />
            <text x="6" y="-4" fill="#c8c8c8" fontSize="9">
              {t.name}
            </text>
          </g>
        ))}
      </svg>
      <canvas ref={canvas} style={FILL} role="img" aria-label="Reading: vectorscope" />
    </Frame>
  );
}

const part = (share: number) =>
  share > 0 && share < 0.001 ? "< 0.1 %" : `${(100 * share).toFixed(1)} %`;

function Beyond({ readings }: { readings: Readings | undefined }) {
  if (!readings) return null;
  const rows: [string, number][] = [
    ["crushed below black", readings.black],
    ["blown above white", readings.white],
    ["too strong a colour", readings.gamut],
  ];
  return (
    <Box fontSize="12px" lineHeight="1.5">
      {rows.map(([label, share]) => (
        <Flex key={label} justify="space-between">
          <Box color="wallMute">{label}</Box>
          <Box>{part(share)}</Box>
        </Flex>
      ))}
    </Box>
  );
}

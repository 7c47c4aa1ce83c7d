import { Box, chakra, Flex } from "@chakra-ui/react";
import type { Clip, SteadinessReport } from "../../api/client";
import { percent } from "../../model/steadinessFindings";
import { countWords } from "../../model/words";

const TALL = 140;
const WIDE = 1200;

/** Columns at the most; each shows its frames' highest value. */
const MOST = 1200;

function line(values: number[], top: number): string {
  const each = Math.max(1, Math.ceil(values.length / MOST));
  const points: string[] = [];
  for (let i = 0; i < values.length; i += each) {
    const high = Math.max(...values.slice(i, i + each));
    const x = ((i + 0.5) / values.length) * WIDE;
    points.push(
      `${x.toFixed(1)} ${(TALL * (1 - Math.min(Math.max(high / top, 0), 1))).toFixed(1)}`,
    );
  }
  return points.length ? `M${points.join(" L")}` : "";
}

/** Change from frame to frame: the footage's, the steady result's, and with the lively part. */
export function Trace({
  clip,
  report,
  frame,
  onFlag,
}: {
  clip: Clip;
  report: SteadinessReport;
  frame: number;
  onFlag: (frame: number) => void;
}) {
  const footage = report.change_footage;
  const sum = (added: number[]) => footage.map((change, i) => change + (added[i] ?? 0));
  const steady = sum(report.added_steady);
  const whole = sum(report.added);
  const lively = report.lively.length > 0;
  // the steady part is what is judged: a lively one that goes far beyond it is cut off
  const middle = whole.toSorted((a, b) => a - b)[Math.floor(whole.length / 2)] ?? 0;
  const top = 1.2 * Math.max(0.01, ...footage, ...steady, lively ? 1.3 * middle : 0);
  const beyond = lively && Math.max(0, ...whole) > top;
  const x = (f: number) => ((f + 0.5) / Math.max(footage.length, 1)) * 100;
  const mean = steady.length ? report.added_steady.reduce((a, b) => a + b, 0) / steady.length : 0;
  const flagged = [
    ...report.flags.map((flag) => ({ frame: flag.frame, summary: `${flag.why} at ${flag.frame}` })),
    ...report.flashes.map((fault) => ({ frame: fault.from, summary: `flashes at ${fault.from}` })),
  ];
  return (
    <Box as="section" aria-label="Change from frame to frame">
      <Flex align="baseline" gap="22px" mb="8px" wrap="wrap">
        <Box as="h2" fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="20px">
          Change from frame to frame
        </Box>
        <Legend colour="mute" dash="">
          footage
        </Legend>
        <Legend colour="ember" dash="">
          result, steady part
        </Legend>
        {lively && (
          <Legend colour="tide" dash="5 4">
            with the lively part
          </Legend>
        )}
        <Box flex="1" />
        <Box>
          {countWords(flagged.length, "flag")} · steady part adds {percent(mean)} on average
          {report.measured !== null && report.measured !== undefined && (
            <>
              {" "}
              · motion estimated on {countWords(report.measured, "frame")} of {footage.length}
            </>
          )}
        </Box>
      </Flex>
      <Box
        position="relative"
        height={`${TALL}px`}
        bg="paper"
        borderWidth="1px"
        borderColor="line"
        borderRadius="6px"
      >
        <chakra.svg
          viewBox={`0 0 ${WIDE} ${TALL}`}
          preserveAspectRatio="none"
          width="100%"
          height="100%"
          role="img"
          aria-label="Change of every frame of the clip"
        >
          {[0.25, 0.5, 0.75].map((part) => (
            <chakra.line
              key={part}
              x2={WIDE}
              y1={TALL * part}
              y2={TALL * part}
              stroke="line"
              strokeWidth="0.6"
              vectorEffect="non-scaling-stroke"
            />
          ))}
          <Curve d={line(footage, top)} colour="mute" />
          {lively && <Curve d={line(whole, top)} colour="tide" dash="5 4" />}
          <Curve d={line(steady, top)} colour="ember" />
        </chakra.svg>
        <Box position="absolute" left="6px" top="3px" color="mute" fontSize="12px">
          {percent(top, 1)} of white{beyond ? "; the lively part goes beyond" : ""}
        </Box>
        {report.cuts.map((cut) => (
          <Box
            key={cut}
            position="absolute"
            top="0"
            bottom="0"
            width="1px"
            bg="mute"
            title={`A cut at frame ${cut}`}
            style={{ left: `${x(cut)}%` }}
          />
        ))}
        <Box
          position="absolute"
          top="0"
          bottom="0"
          width="2px"
          ml="-1px"
          bg="ink"
          opacity="0.5"
          style={{ left: `${x(frame)}%` }}
        />
        {flagged.slice(0, 200).map((flag) => (
          <chakra.button
            key={flag.summary}
            type="button"
            aria-label={`Go to ${flag.summary}`}
            title={flag.summary}
            position="absolute"
            width="13px"
            height="13px"
            ml="-6.5px"
            mt="-6.5px"
            borderRadius="50%"
            bg="sheet"
            borderWidth="2px"
            borderColor="ember"
            cursor="pointer"
            style={{
              left: `${x(flag.frame)}%`,
              top: `${Math.min(Math.max(9, TALL * (1 - (steady[flag.frame] ?? 0) / top)), TALL - 9)}px`,
            }}
            onClick={() => onFlag(flag.frame)}
          />
        ))}
      </Box>
      <Flex justify="space-between" color="mute" fontSize="12px" mt="3px">
        <Box>frame 0</Box>
        <Box>frame {clip.frames - 1}</Box>
      </Flex>
    </Box>
  );
}

function Curve({ d, colour, dash }: { d: string; colour: string; dash?: string }) {
  return (
    <chakra.path
      d={d}
      fill="none"
      stroke={colour}
      strokeWidth="1.6"
      strokeDasharray={dash}
      vectorEffect="non-scaling-stroke"
    />
  );
}

function Legend({ colour, dash, children }: { colour: string; dash: string; children: string }) {
  return (
    <Flex align="center" gap="6px">
      <svg width="22" height="6" aria-hidden="true">
        <chakra.line
          x2="22"
          y1="3"
          y2="3"
          stroke={colour}
          strokeWidth="2"
          strokeDasharray={dash || undefined}
        />
      </svg>
      {children}
    </Flex>
  );
}

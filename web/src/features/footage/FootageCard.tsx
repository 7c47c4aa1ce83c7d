import { Box, chakra, Flex } from "@chakra-ui/react";
import { useState } from "react";
import { busyWith } from "../../api/busy";
import type { Clip } from "../../api/client";
import { streamProgress } from "../../api/progress";
import { bench, useBench } from "../../store/bench";
import { readAs } from "../../store/history";
import { notice } from "../../store/notices";
import { NumberField } from "../../ui/NumberField";
import { Notices } from "../bench/Notices";

const Select = chakra("select");

type Reading = Clip["reading"];
type OverrideName = keyof Reading;

const standard = (matrix: string) => matrix.replace("bt", "BT.");

const RATES = ["24000/1001", "24", "25", "30000/1001", "30", "50", "60000/1001", "60"];

/** Frames on each side that brightness is evened over. */
const WINDOWS = [3, 6, 12, 24, 48];

/** Per cent of the speed it was shot at. */
const SLOWEST = 10;
const FASTEST = 800;

/** What no file tells of itself: without an entry here, it is as `now` has it. */
const OF_OURS = new Set<OverrideName>(["deflicker", "speed", "between", "sound"]);

const isRetimed = (clip: Clip) => clip.reading.speed != null && clip.reading.speed !== 1;

const inNumbers = (rate: string) => {
  const [above = 0, below = 1] = rate.split("/").map(Number);
  return `${Math.round((1000 * above) / below) / 1000} fps`;
};

const isMovie = (clip: Clip) => clip.container !== "numbered stills";

/** What may be set of a clip where its tags are wrong: each with its words and what they do. */
const OVERRIDES: {
  name: OverrideName;
  label: string;
  help: string;
  choices: [string, string][];
  now: (clip: Clip) => string;
  /** The clips it may be set for. */
  of?: (clip: Clip) => boolean;
  /** The clip is measured for it first. */
  measured?: boolean;
  number?: boolean;
  /** It is typed, in per cent. */
  percent?: boolean;
}[] = [
  {
    name: "matrix",
    label: "matrix",
    help: "How codes stand for colours. Wrong: greens and reds are off.",
    choices: ["bt601", "bt709", "bt2020"].map((m) => [m, standard(m)]),
    now: (clip) => standard(clip.matrix) + (clip.matrix_tagged ? "" : ", guessed"),
    of: isMovie,
  },
  {
    name: "range",
    label: "range",
    help: "Which codes are black and white. Wrong: blacks are grey, or crushed.",
    choices: [
      ["limited", "limited, 16–235"],
      ["full", "full, 0–255"],
    ],
    now: (clip) => clip.range,
    of: isMovie,
  },
  {
    name: "light",
    label: "light",
    help: "Standard range, or HLG or PQ, which are brought to BT.709 as ITU-R BT.2446 has it.",
    choices: [
      ["SDR", "standard"],
      ["HLG", "HLG"],
      ["PQ", "PQ"],
    ],
    now: (clip) => (clip.light === "SDR" ? "standard" : clip.light),
    of: isMovie,
  },
  {
    name: "light",
    label: "light",
    help: "What OpenEXR stills hold: the scene's light, or a display's, as Yearning writes it.",
    choices: [
      ["scene", "the scene's"],
      ["display", "a display's"],
    ],
    now: () => "the scene's",
    of: (clip) => clip.codec === "exr",
  },
  {
    name: "fields",
    label: "fields",
    help: "Interlaced frames are made whole from their fields.",
    choices: [
      ["progressive", "progressive"],
      ["top first", "top field first"],
      ["bottom first", "bottom field first"],
    ],
    now: (clip) => clip.fields,
    of: isMovie,
  },
  {
    name: "rate",
    label: "rate",
    help: "Frames a second the clip is taken to, by when each is shown; its length stays.",
    choices: RATES.map((rate) => [rate, inNumbers(rate)]),
    now: (clip) =>
      `${Math.round(1000 * clip.rate) / 1000} fps${clip.variable_rate ? ", uneven" : ""}`,
  },
  {
    name: "deflicker",
    label: "deflicker",
    help: "Evens exposure that pumps: each frame is as bright as those around it, shot by shot.",
    choices: WINDOWS.map((frames) => [String(frames), `over ${frames} frames`]),
    now: () => "off",
    measured: true,
    number: true,
  },
  {
    name: "speed",
    label: "speed",
    help: "Per cent of the speed it was shot at, 10 to 800.",
    choices: [],
    now: () => "as shot",
    number: true,
    percent: true,
  },
  {
    name: "between",
    label: "between",
    help: "What is shown between two frames: the first of them, both dissolved, or a picture made along their motion.",
    choices: [
      ["hold", "hold the frame"],
      ["dissolve", "dissolve"],
      ["motion", "along the motion"],
    ],
    now: () => "along the motion",
    of: isRetimed,
  },
  {
    name: "sound",
    label: "sound then",
    help: "Whether its sound is left out at that speed, or stretched at the same pitch.",
    choices: [["stretched", "stretched"]],
    now: () => "off",
    of: isRetimed,
  },
];

/** The last change: the next is sent when that has been answered, of the clip as it is then. */
let last: Promise<void> = Promise.resolve();

/** What the clip is and how it is read, which may be put right here. */
export function FootageCard() {
  const clip = useBench((s) => s.clip);
  if (!clip) return null;
  const sound = clip.audio.map((a) => `${a.codec}, ${a.rate / 1000} kHz`).join("; ");
  return (
    <Box>
      <Box as="h2" fontFamily="felt" fontStyle="italic" fontSize="16px" mb="4px">
        Footage
      </Box>
      <Fact label="coded as">
        {isMovie(clip) ? "" : "stills, "}
        {clip.codec}, {clip.pixel_format}
      </Fact>
      {OVERRIDES.filter((override) => override.of?.(clip) ?? true).map((override) => (
        <Override key={override.label + override.help} clip={clip} {...override} />
      ))}
      <Fact label="sound">{sound || "none"}</Fact>
      {clip.timecode && <Fact label="timecode">{clip.timecode}</Fact>}
      <Notices where="footage" />
    </Box>
  );
}

function Override({
  clip,
  name,
  label,
  help,
  choices,
  now,
  measured,
  number,
  percent,
}: { clip: Clip } & (typeof OVERRIDES)[0]) {
  const [part, setPart] = useState<number | null>(null);
  const given = String(clip.reading[name] ?? "");
  const override = async (word: string) => {
    const now = bench().clip;
    if (!now) return;
    const value = number ? Number(word) : word;
    const body = { ...now.reading, [name]: word ? value : null };
    try {
      if (measured && word) {
        const address = `/api/v1/clips/${now.id}/light`;
        for await (const progress of streamProgress(address, {}, new AbortController().signal))
          setPart(progress.done / progress.total);
      }
      await readAs(now, body);
    } catch (error) {
      notice("footage", error);
    } finally {
      setPart(null);
    }
  };
  const order = (word: string) => {
    last = busyWith(last.then(() => override(word)));
  };
  return (
    <Flex justify="space-between" align="center" gap="10px" fontSize="12px" title={help}>
      <Box color="wallMute" role={measured ? "status" : undefined}>
        {part === null ? label : `measuring, ${Math.round(100 * part)} %`}
      </Box>
      {percent && (
        <Flex align="center" gap="6px" width="172px">
          <NumberField
            label={`Input ${label}`}
            value={100 * Number(given || 1)}
            minimum={SLOWEST}
            maximum={FASTEST}
            digits={1}
            onEnter={(value) => order(value === 100 ? "" : String(value / 100))}
          />
          %
        </Flex>
      )}
      {!percent && (
        <Select
          aria-label={`Input ${label}`}
          value={given}
          onChange={(event) => order(event.target.value)}
          height="24px"
          width="172px"
          bg={given ? "wallOn" : "wallKey"}
          color={given ? "wallOnInk" : "wallInk"}
          borderRadius="4px"
          px="5px"
          cursor="pointer"
        >
          <option value="">
            {given ? (OF_OURS.has(name) ? now(clip) : "as the file says") : now(clip)}
          </option>
          {choices.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
              {value === given ? ", as said here" : ""}
            </option>
          ))}
        </Select>
      )}
    </Flex>
  );
}

function Fact({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <Flex justify="space-between" gap="10px" fontSize="12px" lineHeight="1.75">
      <Box color="wallMute">{label}</Box>
      <Box textAlign="right">{children}</Box>
    </Flex>
  );
}

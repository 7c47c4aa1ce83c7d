import { Box, chakra } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { api, type ResultKind, unwrap } from "../../api/client";
import { type RenderOptions, useRenderOptions } from "../../store/renders";

const Select = chakra("select");

const HEIGHTS = [2160, 1440, 1080, 720, 540, 360];

/** How the selects look: on the wall, or on paper. */
export type Ground = "wall" | "paper";

export const field = (ground: Ground) =>
  ground === "wall"
    ? ({
        height: "24px",
        width: "100%",
        bg: "wallKey",
        color: "wallInk",
        borderRadius: "4px",
        px: "5px",
        fontSize: "12px",
        minW: "0",
      } as const)
    : ({
        height: "30px",
        width: "100%",
        bg: "sheet",
        color: "ink",
        borderWidth: "1px",
        borderColor: "line",
        borderRadius: "6px",
        px: "8px",
        fontSize: "13px",
      } as const);

const want = (change: Partial<RenderOptions>) => useRenderOptions.setState(change);

const float = (kind: ResultKind) => kind.codec === "OpenEXR";

const deep = (kind: ResultKind, bits: number) =>
  float(kind) ? (bits === 16 ? "half float" : "float") : `${bits} bit`;

function useKinds() {
  const kinds = useQuery({
    queryKey: ["kinds"],
    queryFn: () => unwrap(api.GET("/api/v1/renders/kinds")),
  });
  const codec = useRenderOptions((s) => s.codec);
  return { kinds: kinds.data ?? [], chosen: kinds.data?.find((kind) => kind.codec === codec) };
}

/** As what the next render is written. */
export function AsSelect({ ground }: { ground: Ground }) {
  const { kinds, chosen } = useKinds();
  return (
    <Select
      {...field(ground)}
      aria-label="Render as"
      value={chosen?.codec ?? ""}
      onChange={(event) => {
        const codec = event.target.value as RenderOptions["codec"];
        const hasAlpha = kinds.some((kind) => kind.codec === codec && kind.alpha);
        want({ codec, bits: null, ...(hasAlpha ? {} : { overlay: false }) });
      }}
    >
      {kinds.map((kind) => (
        <option key={kind.codec} value={kind.codec}>
          {kind.codec}, {/^\.(mp4|webm|mkv)$/.test(kind.ending) ? kind.ending : "stills"}
        </option>
      ))}
    </Select>
  );
}

/** How good, in words and the encoder's own value. */
export function QualitySelect({ ground }: { ground: Ground }) {
  const { chosen } = useKinds();
  const quality = useRenderOptions((s) => s.quality);
  if (!chosen) return null;
  if (!chosen.qualities.length)
    return (
      <Box px="5px" py={ground === "paper" ? "5px" : undefined} color="inherit">
        lossless
      </Box>
    );
  return (
    <Select
      {...field(ground)}
      aria-label="Quality"
      value={quality}
      onChange={(event) => want({ quality: event.target.value as RenderOptions["quality"] })}
    >
      {chosen.qualities.map((each) => (
        <option key={each.quality} value={each.quality}>
          {each.summary}
        </option>
      ))}
    </Select>
  );
}

/** The clip through the look, or what the look lays over it alone. */
export function PictureSelect({ ground }: { ground: Ground }) {
  const overlay = useRenderOptions((s) => s.overlay);
  return (
    <Select
      {...field(ground)}
      aria-label="Picture"
      title="What the look lays over the clip can be written alone, with alpha, to lie over others"
      value={overlay ? "overlay" : "clip"}
      onChange={(event) => want({ overlay: event.target.value === "overlay" })}
    >
      <option value="clip">clip and look</option>
      <option value="overlay">look alone, with alpha</option>
    </Select>
  );
}

/** Whether the kind of result that is wanted has alpha. */
export const useHasAlpha = () => useKinds().chosen?.alpha ?? false;

/** Bits a channel. */
export function BitsSelect({ ground }: { ground: Ground }) {
  const { chosen } = useKinds();
  const bits = useRenderOptions((s) => s.bits);
  if (!chosen) return null;
  const movie = chosen.ending.length > 4 || /mp4|mkv/.test(chosen.ending);
  const first = chosen.bits[0];
  return (
    <Select
      {...field(ground)}
      aria-label="Bits"
      value={bits ?? ""}
      disabled={chosen.bits.length < 2}
      onChange={(event) => want({ bits: Number(event.target.value) || null })}
    >
      <option value="">
        {chosen.bits.length > 1 && movie
          ? "bits as footage"
          : first === undefined
            ? ""
            : deep(chosen, first)}
      </option>
      {chosen.bits
        .filter((each) => movie || each !== first)
        .map((each) => (
          <option key={each} value={each}>
            {deep(chosen, each)}
          </option>
        ))}
    </Select>
  );
}

/** The result's size: the footage's, or fewer lines. */
export function SizeSelect({
  ground,
  width,
  height,
}: {
  ground: Ground;
  width: number | null;
  height: number;
}) {
  const wanted = useRenderOptions((s) => s.height);
  const sizeWords = (lines: number) =>
    width === null ? `${lines} lines` : `${2 * Math.round((width * lines) / height / 2)}×${lines}`;
  return (
    <Select
      {...field(ground)}
      aria-label="Size of the result"
      value={wanted !== null && wanted < height ? wanted : ""}
      onChange={(event) => want({ height: Number(event.target.value) || null })}
    >
      <option value="">{width === null ? "as each clip" : `${width}×${height}, full`}</option>
      {HEIGHTS.filter((lines) => lines < height).map((lines) => (
        <option key={lines} value={lines}>
          {sizeWords(lines)}
        </option>
      ))}
    </Select>
  );
}

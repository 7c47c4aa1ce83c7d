import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import type { Clip, Sheet, Shot } from "../../api/client";
import { listLooks } from "../../api/lists";
import { arrangeCells, closer, fromTheMiddle, MOST } from "../../model/proofs";
import { timecode } from "../../model/timecode";
import { useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import { setSheet, settingOf, useProofs } from "../../store/proofs";
import { useExtent } from "../../ui/useExtent";
import { Notices } from "../bench/Notices";
import { Cell } from "./Cell";
import { arrangement, keyOf, type Placed } from "./cells";
import { Empty } from "./Empty";
import { Enlarged } from "./Enlarged";
import { RowHead } from "./RowHead";
import { SheetBar } from "./SheetBar";
import { saveSheet } from "./saveSheet";
import { usePictures, type Wanted } from "./usePictures";
import { usePlayed } from "./usePlayed";
import { subjectWords, useTried, type Variant } from "./variants";

/** CSS pixels: between cells, for a caption, and for what stands before a row. */
const GAP = 8;
const CAPTION = 22;
const HEAD = 104;
const NARROWEST = 150;

/** Proofs: one thing changed many ways, side by side, to be picked by eye. */
export function Proofs() {
  const sheet = useProofs((s) => s.sheet);
  const clip = useBench((s) => s.clip);
  if (!sheet || !clip) return <Empty />;
  return <OpenSheet sheet={sheet} />;
}

function OpenSheet({ sheet }: { sheet: Sheet }) {
  const clips = useClips().data ?? [];
  const scope = useBench((s) => s.scope);
  const look = useBench((s) => s.look);
  const looks = useQuery({ queryKey: ["looks"], queryFn: listLooks });
  const wall = useRef<HTMLDivElement>(null);
  const room = useExtent(wall);
  const [near, setNear] = useState<string | null>(null);
  const [held, setHeld] = useState(false);
  /** The number of the row that is played; all cells are where there are no rows. */
  const [played, setPlayed] = useState<number | null>(null);
  useHeld("f", setHeld);
  const tried = useTried(sheet.subject, looks.data ?? []);
  const there = sheet.shots.filter((shot) => clips.some((c) => c.id === shot.clip));
  const shots = sheet.subject.kind === "pair" ? there.slice(0, 1) : there;
  const nameOf = (shot: Shot) => shotName(shot, clips);
  const { cells, ...placing } = arrangement(tried, shots, nameOf);
  const inRows = placing.columns !== null;
  const first = clips.find((c) => c.id === shots[0]?.clip);
  const ratio = first ? first.width / first.height : 16 / 9;
  const inside = { width: room.width - 2 * GAP, height: room.height - 2 * GAP };
  const { columns, width } =
    placing.columns === null
      ? arrangeCells(cells.length, ratio, inside, CAPTION, GAP)
      : { columns: placing.columns, width: widthInRows(inside.width, placing.columns) };
  const tall = Math.round(width / ratio);
  const lines = Math.max(2 * Math.round((tall * devicePixelRatio) / 2), 32);
  const all = cells.map((cell): Wanted | null => {
    const of = clips.find((c) => c.id === cell.shot.clip);
    const made = cell.variant.look(cell.shot);
    return of && made ? { key: keyOf(cell), clip: of, frame: cell.shot.frame, look: made } : null;
  });
  const isWanted = (one: Wanted | null | undefined): one is Wanted => Boolean(one);
  const wanted = fromTheMiddle(columns, cells.length)
    .map((n) => all[n])
    .filter(isWanted);
  const pictures = usePictures(wanted, width > 0 ? lines : 0);
  const moving = played === null ? [] : all.slice(...rowBounds(played, placing.columns));
  const frames = usePlayed(moving.filter(isWanted), lines);
  const seen = wanted.find((each) => each.key === near);
  const forOne = shots.length > 1 && inRows;
  const take = ({ variant, shot }: Placed) => variant.take?.(shot, forOne ? "this" : scope);
  const turnPlay = (row: number) => setPlayed((now) => (now === row ? null : row));
  const refine = (variant: Variant) => {
    const { subject } = sheet;
    const setting = subject.kind === "span" ? settingOf(subject.step, subject.name) : undefined;
    if (subject.kind !== "span" || variant.value === undefined) return;
    const limits: [number, number] = [setting?.minimum ?? -1e9, setting?.maximum ?? 1e9];
    setSheet({
      ...sheet,
      subject: { ...subject, span: closer(subject.span, variant.value, limits) },
    });
  };
  const save = (file: "png" | "pdf") =>
    saveSheet(subjectWords(sheet.subject, look), file, {
      cells: cells.flatMap((cell, n) => {
        const found = all[n];
        if (!found) return [];
        const { clip, frame, look } = found;
        return [{ clip: clip.id, frame, look, caption: cellCaption(cell) }];
      }),
      columns,
      row_captions: placing.rowVariants.map((row) => row.caption),
      column_captions: placing.columnCaptions,
      height: lines,
    });
  const captionOf = ({ variant, shot }: Placed) => variant.caption || nameOf(shot);
  const cellCaption = (placed: Placed) => {
    const own = placed.variant.captionOn?.(placed.shot);
    const words = [inRows ? undefined : captionOf(placed), own];
    return words.filter(Boolean).join(" · ");
  };
  const cellOf = (placed: Placed) => {
    const key = keyOf(placed);
    const { variant, shot } = placed;
    return (
      <Cell
        key={key}
        width={width}
        tall={tall}
        source={frames[key] ?? pictures[key]}
        name={[captionOf(placed), variant.captionOn?.(shot), forOne && nameOf(shot)]
          .filter(Boolean)
          .join(", ")}
        caption={cellCaption(placed)}
        stands={variant.stands(shot)}
        onNear={() => setNear(key)}
        onTake={variant.take && (() => take(placed))}
        onCloser={variant.value === undefined ? undefined : () => refine(variant)}
      />
    );
  };
  return (
    <Flex direction="column" flex="1" minH="0" position="relative">
      <SheetBar
        sheet={sheet}
        looks={looks.data ?? []}
        onSave={all.every(isWanted) && cells.length ? save : null}
        playing={played !== null}
        onPlay={inRows ? undefined : () => turnPlay(0)}
      />
      <Notices where="look" />
      {placing.leftOut > 0 && (
        <Box role="status" px="16px" pb="6px" bg="desk" color="ember">
          A sheet has at most {MOST} cells: the last {placing.leftOut} of {placing.of} are left out.
          Take fewer shots, or fewer values.
        </Box>
      )}
      <Box
        ref={wall}
        className="on-wall"
        bg="wall"
        color="wallInk"
        flex="1"
        minH="0"
        overflowY="auto"
        position="relative"
        data-proofs
      >
        {inRows ? (
          <Box p={`${GAP}px`}>
            <Flex gap={`${GAP}px`} pl={`${HEAD + GAP}px`} mb="4px" fontSize="12px">
              {placing.columnCaptions.map((caption, n) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: two shots may have one name
                <Box key={n} width={`${width}px`} truncate flex="none">
                  {caption}
                </Box>
              ))}
            </Flex>
            {placing.rowVariants.map((variant, n) => (
              <Flex key={variant.key} gap={`${GAP}px`} mb={`${GAP}px`} align="center">
                <RowHead
                  width={HEAD}
                  caption={variant.caption}
                  taken={shots.every(variant.stands)}
                  onTake={
                    variant.takeForEvery && (() => shots[0] && variant.takeForEvery?.(shots[0]))
                  }
                  playing={played === n}
                  onPlay={() => turnPlay(n)}
                />
                {cells.slice(n * columns, (n + 1) * columns).map(cellOf)}
              </Flex>
            ))}
          </Box>
        ) : (
          <Flex
            wrap="wrap"
            gap={`${GAP}px`}
            p={`${GAP}px`}
            justify="center"
            alignContent="center"
            minH="100%"
          >
            {cells.map(cellOf)}
          </Flex>
        )}
      </Box>
      {held && seen && <Enlarged wanted={seen} small={pictures[seen.key]} />}
    </Flex>
  );
}

/** From which cell to which a row goes; all, where there are no rows. */
const rowBounds = (row: number, columns: number | null): [number, number?] =>
  columns === null ? [0] : [row * columns, (row + 1) * columns];

function widthInRows(room: number, columns: number) {
  const across = (room - HEAD - GAP * columns) / columns;
  return Math.max(Math.floor(Math.min(across, 480)), NARROWEST);
}

function shotName({ clip, frame }: Shot, clips: Clip[]) {
  const found = clips.find((c) => c.id === clip);
  return found ? `${found.name} · ${timecode(frame, found.rate)}` : "";
}

/** Say whether a key is held, outside fields. */
function useHeld(key: string, say: (held: boolean) => void) {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof Element && event.target.matches("input, select");
      if (event.key === key && !typing && !event.ctrlKey) say(event.type === "keydown");
    };
    window.addEventListener("keydown", onKey);
    window.addEventListener("keyup", onKey);
    return () => {
      window.removeEventListener("keydown", onKey);
      window.removeEventListener("keyup", onKey);
    };
  }, [key, say]);
}

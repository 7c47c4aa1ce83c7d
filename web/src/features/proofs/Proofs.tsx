import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { listLooks } from "../../api/lists";
import { arranged, closer, fromTheMiddle, MOST, type Sheet, type Shot } from "../../model/proofs";
import { timecode } from "../../model/timecode";
import { useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import { setSheet, settingOf, useProofs } from "../../store/proofs";
import { useExtent } from "../../ui/useExtent";
import { Notices } from "../bench/Notices";
import { Cell } from "./Cell";
import { Empty } from "./Empty";
import { Enlarged } from "./Enlarged";
import { RowHead } from "./RowHead";
import { SheetBar } from "./SheetBar";
import { usePictures, type Wanted } from "./usePictures";
import { useVariants, type Variant } from "./variants";

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
  const looks = useQuery({ queryKey: ["looks"], queryFn: listLooks });
  const wall = useRef<HTMLDivElement>(null);
  const room = useExtent(wall);
  const [near, setNear] = useState<string | null>(null);
  const [held, setHeld] = useState(false);
  useHeld("f", setHeld);
  const tried = useVariants(sheet.subject, looks.data ?? []);
  const shots = sheet.shots.filter((shot) => clips.some((c) => c.id === shot.clip));
  const variants = tried.slice(0, Math.floor(MOST / Math.max(shots.length, 1)));
  const inRows = shots.length > 1 && variants.length > 1;
  const cells = variants.flatMap((variant) => shots.map((shot) => ({ variant, shot })));
  const first = clips.find((c) => c.id === shots[0]?.clip);
  const ratio = first ? first.width / first.height : 16 / 9;
  const inside = { width: room.width - 2 * GAP, height: room.height - 2 * GAP };
  const across = (inside.width - HEAD - GAP * shots.length) / Math.max(shots.length, 1);
  const { columns, width } = inRows
    ? { columns: shots.length, width: Math.max(Math.floor(Math.min(across, 480)), NARROWEST) }
    : arranged(cells.length, ratio, inside, CAPTION, GAP);
  const tall = Math.round(width / ratio);
  const lines = Math.max(2 * Math.round((tall * devicePixelRatio) / 2), 32);
  const wanted = fromTheMiddle(columns, cells.length).flatMap((n): Wanted[] => {
    const cell = cells[n];
    const of = clips.find((c) => c.id === cell?.shot.clip);
    const look = cell?.variant.look(cell.shot);
    if (!cell || !of || !look) return [];
    return [{ key: keyOf(cell), clip: of, frame: cell.shot.frame, look }];
  });
  const pictures = usePictures(wanted, width > 0 ? lines : 0);
  const seen = wanted.find((each) => each.key === near);
  const take = ({ variant, shot }: Placed) => variant.take(shot, inRows ? "this" : scope);
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
  const cellOf = (placed: Placed) => {
    const key = keyOf(placed);
    return (
      <Cell
        key={key}
        width={width}
        tall={tall}
        source={pictures[key]}
        name={`${placed.variant.caption || nameOf(placed.shot)}${inRows ? `, ${nameOf(placed.shot)}` : ""}`}
        caption={inRows ? "" : placed.variant.caption || nameOf(placed.shot)}
        stands={placed.variant.stands(placed.shot)}
        onNear={() => setNear(key)}
        onTake={() => take(placed)}
        onCloser={placed.variant.value === undefined ? undefined : () => refine(placed.variant)}
      />
    );
  };
  const nameOf = ({ clip, frame }: Shot) => {
    const found = clips.find((c) => c.id === clip);
    return found ? `${found.name} · ${timecode(frame, found.rate)}` : "";
  };
  return (
    <Flex direction="column" flex="1" minH="0" position="relative">
      <SheetBar sheet={sheet} looks={looks.data ?? []} />
      <Notices where="look" />
      {variants.length < tried.length && (
        <Box role="status" px="16px" pb="6px" bg="desk" color="ember">
          A sheet has at most {MOST} cells: the last {tried.length - variants.length} of{" "}
          {tried.length} are left out. Take fewer shots, or fewer values.
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
              {shots.map((shot) => (
                <Box key={JSON.stringify(shot)} width={`${width}px`} truncate flex="none">
                  {nameOf(shot)}
                </Box>
              ))}
            </Flex>
            {variants.map((variant) => (
              <Flex key={variant.key} gap={`${GAP}px`} mb={`${GAP}px`} align="center">
                <RowHead
                  width={HEAD}
                  caption={variant.caption}
                  taken={shots.every(variant.stands)}
                  onTake={
                    variant.takeForEvery && (() => shots[0] && variant.takeForEvery?.(shots[0]))
                  }
                />
                {shots.map((shot) => cellOf({ variant, shot }))}
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

interface Placed {
  variant: Variant;
  shot: Shot;
}

const keyOf = ({ variant, shot }: Placed) => JSON.stringify([variant.key, shot.clip, shot.frame]);

/** Say whether a key is held, outside fields. */
function useHeld(key: string, say: (held: boolean) => void) {
  useEffect(() => {
    const heard = (event: KeyboardEvent) => {
      const typing = event.target instanceof Element && event.target.matches("input, select");
      if (event.key === key && !typing && !event.ctrlKey) say(event.type === "keydown");
    };
    window.addEventListener("keydown", heard);
    window.addEventListener("keyup", heard);
    return () => {
      window.removeEventListener("keydown", heard);
      window.removeEventListener("keyup", heard);
    };
  }, [key, say]);
}

import { Box, chakra, Flex } from "@chakra-ui/react";
import { X } from "lucide-react";
import { type KeyboardEvent, useEffect, useMemo, useRef, useState } from "react";
import type { KeptStep, Step, Treatment } from "../../api/client";
import { copiesOf } from "../../model/copies";
import { madeStep, placedStep } from "../../model/newStep";
import { searchTreatments } from "../../model/searchTreatments";
import { treatmentName } from "../../model/stepNames";
import { bench, setState, useBench } from "../../store/bench";
import { addStep, takenIds } from "../../store/edits";
import { addKeptStep, letStepGo, useKeptSteps } from "../../store/keptSteps";
import { Button } from "../../ui/Button";
import { Thumbnail } from "../../ui/Thumbnail";
import { usePictures, type Wanted } from "./usePictures";

const Entry = chakra("input");
const Image = chakra("img");

const NONE: Treatment[] = [];

const close = () => setState({ adding: false });

function add(treatment: Treatment) {
  addStep(treatment);
  close();
}

/** The look with a step of each treatment, and each step that is kept, in its place. */
function trials(treatments: Treatment[], kept: KeptStep[]): Wanted[] {
  const { look, open, catalogue } = bench();
  if (!look || !catalogue) return [];
  const lookWith = (step: Step) => ({
    ...look,
    steps: placedStep(look.steps, step, catalogue, open),
  });
  return [
    ...treatments.map(
      (t) => [t.kind, lookWith(madeStep(t, "on-trial", t.shown as Step["settings"]))] as const,
    ),
    ...kept.flatMap((k) =>
      copiesOf([k.step], takenIds()).map((step) => [mine(k), lookWith(step)] as const),
    ),
  ];
}

/** The tile that lies next in a direction, by where the tiles are on screen. */
function nextTo(list: HTMLElement | null, kind: string, key: string): string | undefined {
  const tiles = [...(list?.querySelectorAll<HTMLElement>("[role=option]") ?? [])];
  const at = tiles.findIndex((tile) => tile.dataset.kind === kind);
  if (key === "ArrowRight") return (tiles[at + 1] ?? tiles[0])?.dataset.kind;
  if (key === "ArrowLeft") return (tiles[at - 1] ?? tiles.at(-1))?.dataset.kind;
  const from = tiles[at]?.getBoundingClientRect();
  if (!from) return undefined;
  const way = key === "ArrowDown" ? 1 : -1;
  const far = (tile: HTMLElement) => {
    const to = tile.getBoundingClientRect();
    const down = (to.top - from.top) * way;
    return down < 4 ? Number.POSITIVE_INFINITY : 4 * down + Math.abs(to.left - from.left);
  };
  const best = tiles.toSorted((a, b) => far(a) - far(b))[0];
  return best && far(best) < Number.POSITIVE_INFINITY ? best.dataset.kind : undefined;
}

/** All treatments on the frame at hand: searched by typing, chosen by arrows and Enter, or a click. */
export function AddSheet() {
  const catalogue = useBench((s) => s.catalogue);
  const [search, setSearch] = useState("");
  const [active, setActive] = useState<string | null>(null);
  const list = useRef<HTMLDivElement>(null);
  const treatments = catalogue?.treatments ?? NONE;
  const found = useMemo(() => searchTreatments(treatments, search), [treatments, search]);
  const kinds = new Set(found.map((t) => t.kind));
  const first = search.trim() ? found[0] : catalogue && firstOf(catalogue.stages, found);
  const chosen = active !== null && kinds.has(active) ? active : (first?.kind ?? "");
  const kept = useKeptSteps((s) => s.kept);
  const pictures = usePictures(useMemo(() => trials(treatments, kept), [treatments, kept]));
  useEffect(() => {
    list.current?.querySelector(`[data-kind="${chosen}"]`)?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  const press = (event: KeyboardEvent) => {
    event.stopPropagation(); // no other shortcut works meanwhile
    if (event.key === "Escape") close();
    else if (!(event.target instanceof HTMLInputElement))
      return; // a button's own keys
    else if (event.key === "Enter") {
      const treatment = found.find((t) => t.kind === chosen);
      if (treatment) add(treatment);
    } else if (event.key.startsWith("Arrow")) {
      setActive(nextTo(list.current, chosen, event.key) ?? chosen);
    } else return;
    event.preventDefault();
  };
  return (
    <Flex
      as="section"
      aria-label="Add a step"
      direction="column"
      position="absolute"
      inset="0"
      zIndex="7"
      bg="paper"
      px="14px"
      pt="8px"
      onKeyDown={press}
    >
      <Flex align="center" gap="12px" mb="4px" flex="none">
        <Box as="h2" fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="18px">
          Add a step
        </Box>
        <Entry
          autoFocus
          role="combobox"
          aria-label="Search the treatments"
          aria-expanded
          aria-controls="treatments"
          aria-activedescendant={chosen ? `add-${chosen}` : undefined}
          placeholder="texture, snow, saturation, jitter…"
          height="30px"
          width="320px"
          px="10px"
          bg="sheet"
          borderWidth="1px"
          borderColor="line"
          borderRadius="6px"
          value={search}
          onChange={(event) => {
            setSearch(event.target.value);
            setActive(null);
          }}
          onBlur={(event) => {
            if (!event.relatedTarget) event.target.focus();
          }}
        />
        <Box color="mute" flex="1" role="status">
          {found.length === treatments.length
            ? "Each on this frame, where it would stand, plainly: a new step may do less. Arrows and Enter, or a click."
            : found.length
              ? `${found.length} of ${treatments.length}`
              : "Nothing is called that here. Try what it looks like, or what it is used for."}
        </Box>
        <Button small type="button" onClick={close}>
          Cancel
        </Button>
      </Flex>
      <Flex
        ref={list}
        id="treatments"
        role="listbox"
        aria-label="Treatments"
        wrap="wrap"
        gap="6px 20px"
        p="3px"
        alignContent="flex-start"
        flex="1"
        minH="0"
        overflowY="auto"
        pb="8px"
      >
        {catalogue?.stages.map((stage) => {
          const here = treatments.filter((t) => t.stage === stage && kinds.has(t.kind));
          if (!here.length) return null;
          return (
            <Box key={stage} role="group" aria-label={stage}>
              <Box fontFamily="felt" fontStyle="italic" color="mute">
                {stage}
              </Box>
              <Flex gap="8px" wrap="wrap">
                {here.map((t) => (
                  <Tile
                    key={t.kind}
                    treatment={t}
                    picture={pictures[t.kind]}
                    chosen={t.kind === chosen}
                  />
                ))}
              </Flex>
            </Box>
          );
        })}
      </Flex>
      <MySteps search={search} pictures={pictures} />
    </Flex>
  );
}

/** Steps kept under a name, those that the search finds. */
function MySteps({ search, pictures }: { search: string; pictures: Record<string, string> }) {
  const kept = useKeptSteps((s) => s.kept);
  const found = kept.filter((k) => k.name.toLowerCase().includes(search.trim().toLowerCase()));
  if (!found.length) return null;
  return (
    <Box as="section" aria-label="My steps" flex="none" pb="8px">
      <Box fontFamily="felt" fontStyle="italic" color="mute">
        my steps
      </Box>
      <Flex gap="8px" overflowX="auto" pb="2px">
        {found.map((k) => (
          <Flex key={k.name} flex="none" align="center" gap="2px" bg="sheet" borderRadius="5px">
            <Button
              tone="bare"
              type="button"
              height="38px"
              px="4px"
              onClick={() => {
                addKeptStep(k);
                close();
              }}
            >
              <Thumbnail width={56} source={pictures[mine(k)]} alt="" />
              {k.name}
            </Button>
            <Button
              tone="bare"
              small
              type="button"
              px="4px"
              aria-label={`Let ${k.name} go`}
              title="Let it go"
              onClick={() => letStepGo(k.name)}
            >
              <X size={13} />
            </Button>
          </Flex>
        ))}
      </Flex>
    </Box>
  );
}

const mine = ({ name }: KeptStep) => `my ${name}`;

/** The treatment found that stands first in the order light meets things. */
const firstOf = (stages: string[], found: Treatment[]) =>
  stages.map((stage) => found.find((t) => t.stage === stage)).find(Boolean);

interface TileProps {
  treatment: Treatment;
  picture: string | undefined;
  chosen: boolean;
}

function Tile({ treatment, picture, chosen }: TileProps) {
  return (
    <Box
      role="option"
      id={`add-${treatment.kind}`}
      data-kind={treatment.kind}
      aria-selected={chosen}
      title={treatment.summary}
      width="115px"
      p="3px"
      borderRadius="5px"
      cursor="pointer"
      outline={chosen ? "2px solid" : undefined}
      outlineColor="ember"
      _hover={{ bg: "desk" }}
      onPointerDown={(event) => event.preventDefault()}
      onClick={() => add(treatment)}
    >
      <Box height="63px" bg="line" borderRadius="3px" overflow="hidden">
        {picture && (
          <Image
            src={picture}
            alt=""
            width="100%"
            height="100%"
            objectFit="cover"
            draggable={false}
          />
        )}
      </Box>
      <Box fontWeight="700" mt="1px">
        {treatmentName(treatment.kind)}
      </Box>
      <Box color="mute" fontSize="11px" lineHeight="1.15" height="25px" overflow="hidden">
        {treatment.summary}
      </Box>
    </Box>
  );
}

import { Box, chakra, Flex } from "@chakra-ui/react";
import { Trash2 } from "lucide-react";
import { allSteps } from "../../model/lookTree";
import { capitalize, stepName } from "../../model/stepNames";
import { setState, useBench } from "../../store/bench";
import { toggleAlone } from "../../store/room";
import { COMPARES, type Compare, FOOTAGE, GAINS, OWN } from "../../store/slices/compare";
import { dropSnapshot, goBackTo, keepSnapshot } from "../../store/snapshots";
import { zoomBy, zoomTo } from "../../store/zoom";
import { Button } from "../../ui/Button";
import { ChoiceButtons } from "../../ui/ChoiceButtons";
import { UnderPointer } from "./UnderPointer";

const Select = chakra("select");

const HINTS: Record<Compare, string> = {
  plain: "The result alone",
  wipe: "Result and comparison, divided by a line you drag",
  blink: "Result and comparison by turns",
  beside: "Result and comparison side by side",
  change: "How the result differs from the comparison, magnified about grey",
};

/** CSS pixels: how wide the column is, and what the wall leaves free around the picture. */
export const COLUMN = 106;
export const MARGIN = 6;

/** Ways to look at the picture: compared, at which size, with what a display can't show striped. */
export function CompareColumn() {
  const compare = useBench((s) => s.compare);
  const zoom = useBench((s) => s.zoom);
  const warns = useBench((s) => s.warns);
  return (
    <Flex
      direction="column"
      width={`${COLUMN}px`}
      flex="none"
      py={`${MARGIN}px`}
      pl="8px"
      gap="4px"
      overflowX="hidden"
      overflowY="auto"
    >
      <Flex direction="column" gap="4px" role="group" aria-label="Compare" flex="none">
        <ChoiceButtons
          choices={COMPARES.map((value) => ({
            value,
            word: capitalize(value),
            hint: HINTS[value],
          }))}
          chosen={compare}
          ground="wall"
          onChoose={(way) => setState({ compare: way })}
        />
      </Flex>
      {compare === "change" && <Gain />}
      {compare !== "plain" && <BaseChoice />}
      <Button
        small
        flexShrink={0}
        tone="wall"
        type="button"
        title="Keep the look as it is now, to compare with and to go back to"
        onClick={() => void keepSnapshot()}
      >
        Snapshot
      </Button>
      <Flex direction="column" gap="4px" role="group" aria-label="Size" mt="6px" flex="none">
        <ChoiceButtons
          choices={[
            { value: null, word: "Fit", hint: "All of the picture, as large as there is room" },
            {
              value: 1,
              word: "1 : 1",
              hint: "True pixels of the full-size result, at the place under the pointer (Z)",
            },
          ]}
          chosen={zoom}
          ground="wall"
          onChoose={zoomTo}
        />
        <Zoom />
      </Flex>
      <Flex direction="column" gap="4px" mt="6px" flex="none">
        <Button small type="button" tone="wall" title="The picture alone (F)" onClick={toggleAlone}>
          Picture only
        </Button>
        <Button
          small
          type="button"
          tone={warns ? "wallOn" : "wall"}
          aria-pressed={warns}
          title="Stripe what a display can't show: crushed, blown, too strong a colour"
          onClick={() => setState({ warns: !warns })}
        >
          Clipping
        </Button>
      </Flex>
      <Box flex="1" />
      <UnderPointer />
    </Flex>
  );
}

/** How large the picture is, nearer and further. */
function Zoom() {
  const zoom = useBench((s) => s.zoom);
  return (
    <Flex gap="4px" align="center">
      <Button
        small
        tone="wall"
        type="button"
        px="0"
        width="26px"
        aria-label="Further"
        title="Further (−, or the wheel)"
        onClick={() => zoomBy(-1)}
      >
        −
      </Button>
      <Box flex="1" textAlign="center" fontSize="12px" aria-label="Zoom" role="status">
        {zoom === null ? "fit" : `${Math.round(zoom * 100)} %`}
      </Box>
      <Button
        small
        tone="wall"
        type="button"
        px="0"
        width="26px"
        aria-label="Nearer"
        title="Nearer (+, or the wheel)"
        onClick={() => zoomBy(1)}
      >
        +
      </Button>
    </Flex>
  );
}

function Gain() {
  const gain = useBench((s) => s.gain);
  return (
    <WallSelect
      label="Magnified"
      value={String(gain)}
      onChoose={(g) => setState({ gain: Number(g) })}
    >
      {GAINS.map((g) => (
        <option key={g} value={g}>
          × {g}
        </option>
      ))}
    </WallSelect>
  );
}

function BaseChoice() {
  const look = useBench((s) => s.look);
  const base = useBench((s) => s.base);
  const compare = useBench((s) => s.compare);
  const snapshots = useBench((s) => s.snapshots);
  const kept = snapshots.find((s) => s.id === base);
  return (
    <>
      <WallSelect label="Compare with" value={base} onChoose={(id) => setState({ base: id })}>
        <option value={FOOTAGE}>as shot</option>
        {compare === "change" && <option value={OWN}>the open step alone</option>}
        {allSteps(look?.steps ?? []).map((step) => (
          <option key={step.id} value={step.id}>
            after {stepName(step)}
          </option>
        ))}
        {snapshots.map((s) => (
          <option key={s.id} value={s.id}>
            {s.name}
          </option>
        ))}
      </WallSelect>
      {kept && (
        <Flex gap="5px">
          <Button
            small
            tone="wall"
            type="button"
            flex="1"
            px="4px"
            title="Have the look be as this snapshot; Undo takes it back"
            onClick={() => goBackTo(kept.id)}
          >
            Go back
          </Button>
          <Button
            small
            tone="wall"
            type="button"
            px="6px"
            aria-label={`Let ${kept.name} go`}
            title="Let this snapshot go"
            onClick={() => void dropSnapshot(kept.id)}
          >
            <Trash2 size={13} />
          </Button>
        </Flex>
      )}
    </>
  );
}

function WallSelect({
  label,
  value,
  onChoose,
  children,
}: {
  label: string;
  value: string;
  onChoose: (value: string) => void;
  children: React.ReactNode;
}) {
  return (
    <Select
      aria-label={label}
      title={label}
      value={value}
      onChange={(event) => onChoose(event.target.value)}
      height="26px"
      flex="none"
      width="100%"
      fontSize="12px"
      bg="wallKey"
      color="wallInk"
      borderRadius="6px"
      px="4px"
    >
      {children}
    </Select>
  );
}

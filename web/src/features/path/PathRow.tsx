import { Box, chakra, Flex } from "@chakra-ui/react";
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  horizontalListSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { Plus } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Catalogue, Step } from "../../api/client";
import { allSteps, innerSteps, isBundle, rowOf } from "../../model/lookTree";
import { belowOf } from "../../model/stepInput";
import { stepName, titled } from "../../model/stepNames";
import { summary } from "../../model/stepSummary";
import { bench, setState, useBench } from "../../store/bench";
import { addStep, bundleChosen, moveStep } from "../../store/edits";
import { treatmentOf } from "../../store/look";
import { AS_SHOT } from "../../store/slices/compare";
import { Button } from "../../ui/Button";
import { Stage } from "../../ui/Stage";
import { Thumbnail } from "../../ui/Thumbnail";
import { OpenStep } from "../step/OpenStep";
import { showStarters } from "./Starters";

const Card = chakra("button");

/** The look as a row of pictures, from the footage to the result; the open step widens in place. */
export function PathRow() {
  const look = useBench((s) => s.look);
  const clip = useBench((s) => s.clip);
  const footage = useBench((s) => s.thumbnails[AS_SHOT]);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, {
      coordinateGetter: sortableKeyboardCoordinates,
      keyboardCodes: { start: ["KeyM"], cancel: ["Escape"], end: ["KeyM", "Enter"] },
    }),
  );
  const steps = look?.steps ?? [];
  return (
    <Flex as="section" aria-label="Path" flex="none" height="254px" bg="desk" position="relative">
      <Flex
        flex="1"
        minW="0"
        px="12px"
        py="9px"
        gap="9px"
        overflowX="auto"
        overflowY="hidden"
        align="flex-start"
      >
        <Box width="98px" flex="none">
          <Stage>as shot</Stage>
          <Thumbnail source={footage} alt="The footage" />
          <Box fontWeight="700" mt="3px">
            Footage
          </Box>
          <Box color="mute" fontSize="12px">
            {clip
              ? `${clip.matrix.replace("bt", "BT.")}, ${/1[0-6]/.test(clip.pixel_format) ? "10 bit" : "8 bit"}`
              : ""}
          </Box>
        </Box>
        <DndContext
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragEnd={({ active, over }) => {
            const row = rowOf(steps, String(active.id));
            const to = row.findIndex((s) => s.id === over?.id);
            if (over && to >= 0 && active.id !== over.id) moveStep(String(active.id), to);
          }}
        >
          <StepRow steps={steps} />
        </DndContext>
        <BundleKey />
      </Flex>
      <AddStep empty={steps.length === 0} />
    </Flex>
  );
}

/** Steps side by side: the open one in place, and the bundle around it as a frame. */
function StepRow({ steps }: { steps: Step[] }) {
  const open = useBench((s) => s.open);
  return (
    <SortableContext items={steps.map((s) => s.id)} strategy={horizontalListSortingStrategy}>
      {steps.map((step) => {
        if (step.id === open)
          return <OpenStep key={step.id} step={step} before={belowOf(step.id, steps)} />;
        if (isBundle(step) && allSteps(innerSteps(step)).some((s) => s.id === open))
          return <OpenBundle key={step.id} bundle={step} />;
        return <StepCard key={step.id} step={step} />;
      })}
    </SortableContext>
  );
}

function OpenBundle({ bundle }: { bundle: Step }) {
  return (
    <Flex
      as="section"
      aria-label={`Within ${stepName(bundle)}`}
      flex="none"
      gap="9px"
      height="236px"
      align="flex-start"
      px="8px"
      borderWidth="1px"
      borderStyle="dashed"
      borderColor="ember"
      borderRadius="8px"
    >
      <Flex direction="column" width="76px" pt="4px" gap="6px">
        <Stage>within</Stage>
        <Box fontFamily="felt" fontStyle="italic" fontWeight="600" lineHeight="1.15">
          {stepName(bundle)}
        </Box>
        <Button
          small
          type="button"
          title="Open the bundle: how it is mixed back"
          onClick={() => setState({ open: bundle.id })}
        >
          Its mix
        </Button>
      </Flex>
      <StepRow steps={innerSteps(bundle)} />
    </Flex>
  );
}

/** Offers to make the chosen steps one. */
function BundleKey() {
  const chosen = useBench((s) => s.chosen);
  if (chosen.size === 0) return null;
  return (
    <Flex direction="column" gap="5px" flex="none" mt="21px">
      <Button
        type="button"
        onClick={bundleChosen}
        title="Make the chosen steps one, mixed back as one"
      >
        Bundle {chosen.size} {chosen.size === 1 ? "step" : "steps"}
      </Button>
      <Button small tone="bare" type="button" onClick={() => setState({ chosen: new Set() })}>
        Choose none
      </Button>
    </Flex>
  );
}

/** Choose a step for a bundle, or no longer. */
function choose(id: string) {
  const chosen = new Set(bench().chosen);
  if (!chosen.delete(id)) chosen.add(id);
  setState({ chosen });
}

function StepCard({ step }: { step: Step }) {
  const thumbnail = useBench((s) => s.thumbnails[step.id]);
  const treatment = treatmentOf(step);
  const sortable = useSortable({ id: step.id });
  const chosen = useBench((s) => s.chosen.has(step.id));
  const words = step.on ? summary(step, treatment) : "off";
  return (
    <Card
      type="button"
      ref={sortable.setNodeRef}
      {...sortable.attributes}
      {...sortable.listeners}
      role="button"
      title="Click to open, drag to move (or M, arrows, M); Ctrl-click chooses it for a bundle"
      aria-pressed={chosen || undefined}
      outline={chosen ? "2px solid" : undefined}
      outlineColor="tide"
      outlineOffset="3px"
      width="98px"
      flex="none"
      textAlign="left"
      cursor="pointer"
      borderRadius="4px"
      style={{
        transform: CSS.Translate.toString(sortable.transform),
        transition: sortable.transition,
      }}
      zIndex={sortable.isDragging ? 3 : undefined}
      onClick={(event) =>
        event.ctrlKey || event.metaKey ? choose(step.id) : setState({ open: step.id })
      }
    >
      <Stage>{treatment?.stage ?? "several"}</Stage>
      <Thumbnail
        source={thumbnail}
        alt={`After ${stepName(step).toLowerCase()}`}
        dimmed={!step.on}
      />
      <Box fontWeight="700" mt="3px" color={step.on ? "ink" : "mute"}>
        {stepName(step)}
      </Box>
      <Box
        color="mute"
        fontSize="12px"
        whiteSpace="nowrap"
        overflow="hidden"
        textOverflow="ellipsis"
      >
        {words}
      </Box>
      <Box height="4px" mt="5px" borderRadius="2px" bg="line">
        <Box
          height="100%"
          borderRadius="2px"
          bg={step.on ? "tide" : "mute"}
          style={{ width: `${step.mix.amount * 100}%` }}
        />
      </Box>
    </Card>
  );
}

/** The treatment that stands first in the order light meets things. */
const firstOf = ({ stages, treatments }: Catalogue) =>
  stages.map((stage) => treatments.find((t) => t.stage === stage)).find(Boolean);

function AddStep({ empty }: { empty: boolean }) {
  const catalogue = useBench((s) => s.catalogue);
  const [choosing, setChoosing] = useState(false);
  const first = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    const wanted = () => setChoosing(true);
    window.addEventListener("add-step", wanted);
    return () => window.removeEventListener("add-step", wanted);
  }, []);
  useEffect(() => {
    if (choosing) first.current?.focus();
  }, [choosing]);
  if (!choosing && !empty) {
    return (
      <Button
        type="button"
        mt="30px"
        height="54px"
        flex="none"
        borderStyle="dashed"
        mr="12px"
        px="0"
        width="54px"
        aria-label="Add a step"
        title="Add a step (N)"
        onClick={() => setChoosing(true)}
      >
        <Plus size={16} />
      </Button>
    );
  }
  return (
    <Box
      flex="none"
      bg="paper"
      borderWidth="1px"
      borderColor="line"
      borderRadius="8px"
      p="10px"
      width="660px"
      maxH="236px"
      overflowY="auto"
      position="absolute"
      right="12px"
      top="9px"
      zIndex="4"
      onKeyDown={(event) => event.key === "Escape" && setChoosing(false)}
    >
      <Flex mb="6px" justify="space-between" align="baseline">
        {empty ? "This look has no steps yet: it is the footage. Add the first." : "Add a step"}
        {empty ? (
          <Button small type="button" onClick={showStarters}>
            Or begin with a starter look
          </Button>
        ) : (
          <Button small tone="bare" type="button" onClick={() => setChoosing(false)}>
            Not now
          </Button>
        )}
      </Flex>
      <Box display="grid" gridTemplateColumns="1fr 1fr 1fr" gap="5px">
        {catalogue?.stages.map((stage) =>
          catalogue.treatments
            .filter((t) => t.stage === stage)
            .map((t) => (
              <Button
                key={t.kind}
                ref={t === firstOf(catalogue) ? first : undefined}
                type="button"
                height="34px"
                px="8px"
                justifyContent="flex-start"
                textAlign="left"
                title={t.summary}
                lineHeight="1.15"
                whiteSpace="normal"
                fontSize="12px"
                onClick={() => {
                  addStep(t);
                  setChoosing(false);
                }}
              >
                <Box as="span" overflow="hidden" maxH="28px">
                  <Box as="span" fontFamily="felt" fontStyle="italic" color="mute">
                    {stage}
                  </Box>{" "}
                  <b>{titled(t.kind)}</b> {t.summary}
                </Box>
              </Button>
            )),
        )}
      </Box>
    </Box>
  );
}

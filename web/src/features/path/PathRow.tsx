import { Box, Flex } from "@chakra-ui/react";
import {
  type Announcements,
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  type UniqueIdentifier,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  SortableContext,
  type SortingStrategy,
  sortableKeyboardCoordinates,
} from "@dnd-kit/sortable";
import { ArrowLeft, ArrowRight, Plus, Trash2 } from "lucide-react";
import type { Step } from "../../api/client";
import { allSteps, findStep, innerSteps, isBundle, rowOf } from "../../model/lookTree";
import { orderHints } from "../../model/orderHints";
import { belowOf } from "../../model/stepInput";
import { stepName } from "../../model/stepNames";
import { countWords } from "../../model/words";
import { setState, useBench } from "../../store/bench";
import { bundleChosen, moveChosen, moveStep, removeSteps } from "../../store/edits";
import { FOOTAGE } from "../../store/slices/compare";
import { Button } from "../../ui/Button";
import { Stage } from "../../ui/Stage";
import { Thumbnail } from "../../ui/Thumbnail";
import { OpenStep } from "../step/OpenStep";
import { usePathHeight } from "./pathHeight";
import { showStarters } from "./Starters";
import { LARGE, SMALL, StepCard } from "./StepCard";

/** The look as a row of pictures, from the footage to the result; the open step widens in place. */
export function PathRow() {
  const look = useBench((s) => s.look);
  const clip = useBench((s) => s.clip);
  const footage = useBench((s) => s.thumbnails[FOOTAGE]);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, {
      coordinateGetter: sortableKeyboardCoordinates,
      keyboardCodes: { start: ["KeyM"], cancel: ["Escape"], end: ["KeyM", "Enter"] },
    }),
  );
  const steps = look?.steps ?? [];
  const open = useBench((s) => findStep(s.look?.steps ?? [], s.open) !== undefined);
  const height = usePathHeight();
  const width = open ? SMALL : LARGE;
  return (
    <Flex
      as="section"
      aria-label="Path"
      flex="none"
      height={open ? `${height}px` : "auto"}
      bg="desk"
      position="relative"
    >
      <Flex
        flex="1"
        minW="0"
        px="10px"
        py="6px"
        gap="8px"
        overflowX="auto"
        overflowY="hidden"
        align="flex-start"
      >
        <Box width={`${width}px`} flex="none">
          <Stage>as shot</Stage>
          <Thumbnail width={width} source={footage} alt="The footage" />
          <Box fontWeight="700" mt="2px">
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
          accessibility={{
            announcements: announcements(steps),
            screenReaderInstructions: {
              draggable:
                "Press M to take the step up, the arrow keys to move it, M to put it down.",
            },
          }}
          onDragEnd={({ active, over }) => {
            const row = rowOf(steps, String(active.id));
            const to = row.findIndex((s) => s.id === over?.id);
            if (over && to >= 0 && active.id !== over.id) moveStep(String(active.id), to);
          }}
        >
          <StepRow steps={steps} />
        </DndContext>
        <Chosen />
      </Flex>
      <AddStep empty={steps.length === 0} />
    </Flex>
  );
}

/** What a screen reader says while a step is moved. */
function announcements(steps: Step[]): Announcements {
  const nameOf = (id: UniqueIdentifier) => {
    const step = findStep(steps, String(id));
    return step ? stepName(step) : "the step";
  };
  const place = (id: UniqueIdentifier) => {
    const row = rowOf(steps, String(id));
    return `place ${row.findIndex((s) => s.id === id) + 1} of ${row.length}`;
  };
  return {
    onDragStart: ({ active }) => `${nameOf(active.id)} is taken up, from ${place(active.id)}.`,
    onDragOver: ({ active, over }) =>
      over ? `${nameOf(active.id)} would stand at ${place(over.id)}.` : undefined,
    onDragEnd: ({ active, over }) =>
      over ? `${nameOf(active.id)} is put down at ${place(over.id)}.` : "It stays where it was.",
    onDragCancel: ({ active }) => `${nameOf(active.id)} stays where it was.`,
  };
}

/** Steps side by side: the open one in place, and the bundle around it as a frame. */
function StepRow({ steps }: { steps: Step[] }) {
  const open = useBench((s) => s.open);
  const treatments = useBench((s) => s.catalogue?.treatments);
  const hints = orderHints(steps, treatments ?? []);
  return (
    <SortableContext items={steps.map((s) => s.id)} strategy={stayPut}>
      {steps.map((step) => {
        const hint = hints.find((h) => h.id === step.id);
        if (step.id === open)
          return (
            <OpenStep key={step.id} step={step} before={belowOf(step.id, steps)} hint={hint} />
          );
        if (isBundle(step) && allSteps(innerSteps(step)).some((s) => s.id === open))
          return <OpenBundle key={step.id} bundle={step} />;
        return <StepCard key={step.id} step={step} hint={hint} />;
      })}
    </SortableContext>
  );
}

/** While one is dragged the others stay where they are: a line says where it would land. */
const stayPut: SortingStrategy = () => null;

function OpenBundle({ bundle }: { bundle: Step }) {
  return (
    <Flex
      as="section"
      aria-label={`Within ${stepName(bundle)}`}
      flex="none"
      gap="9px"
      height="100%"
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

/** What can be done with the chosen steps together. */
function Chosen() {
  const chosen = useBench((s) => s.chosen);
  if (chosen.size === 0) return null;
  const many = countWords(chosen.size, "step");
  return (
    <Flex
      role="group"
      aria-label={`${many} chosen`}
      direction="column"
      gap="4px"
      flex="none"
      mt="4px"
      width="132px"
    >
      <Button small type="button" onClick={bundleChosen} title="Make them one, mixed back as one">
        Bundle {many}
      </Button>
      <Flex gap="4px">
        <Button
          small
          type="button"
          flex="1"
          px="0"
          aria-label="Move them earlier"
          onClick={() => moveChosen(-1)}
        >
          <ArrowLeft size={14} />
        </Button>
        <Button
          small
          type="button"
          flex="1"
          px="0"
          aria-label="Move them later"
          onClick={() => moveChosen(1)}
        >
          <ArrowRight size={14} />
        </Button>
        <Button
          small
          type="button"
          flex="1"
          px="0"
          aria-label="Remove them"
          title="Remove them"
          onClick={() => removeSteps(chosen)}
        >
          <Trash2 size={14} />
        </Button>
      </Flex>
      <Button small tone="bare" type="button" onClick={() => setState({ chosen: new Set() })}>
        Choose none
      </Button>
    </Flex>
  );
}

/** Opens the sheet of treatments; in a look without steps it says what to do first. */
function AddStep({ empty }: { empty: boolean }) {
  const add = () => setState({ adding: true });
  if (empty)
    return (
      <Flex align="center" gap="10px" mt="36px" pl="8px">
        This look has no steps yet: it is the footage.
        <Button tone="main" type="button" title="Add a step (N)" onClick={add}>
          Add the first step
        </Button>
        <Button type="button" onClick={showStarters}>
          Or begin with a starter look
        </Button>
      </Flex>
    );
  return (
    <Button
      type="button"
      mt="24px"
      mr="10px"
      height="54px"
      flex="none"
      borderStyle="dashed"
      px="0"
      width="54px"
      aria-label="Add a step"
      title="Add a step (N)"
      onClick={add}
    >
      <Plus size={16} />
    </Button>
  );
}

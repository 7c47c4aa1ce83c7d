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
import type { Step } from "../api/client";
import { Key } from "../controls/Key";
import { AS_SHOT, put, titled, treatmentOf, useBench } from "../state/bench";
import { addStep, moveStep } from "../state/edits";
import { OpenStep } from "./OpenStep";
import { summary } from "./summary";

const Card = chakra("button");
const Image = chakra("img");

/** The look as a row of pictures, from the footage to the result; the open step widens in place. */
export function PathRow() {
  const look = useBench((s) => s.look);
  const open = useBench((s) => s.open);
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
    <Flex
      as="section"
      aria-label="Path"
      flex="none"
      height="254px"
      bg="desk"
      px="12px"
      py="9px"
      gap="9px"
      overflowX="auto"
      overflowY="hidden"
      align="flex-start"
    >
      <Box width="98px" flex="none">
        <Stage>as shot</Stage>
        <Thumbnail source={footage} says="The footage" />
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
          const to = steps.findIndex((s) => s.id === over?.id);
          if (over && active.id !== over.id) moveStep(String(active.id), to);
        }}
      >
        <SortableContext items={steps.map((s) => s.id)} strategy={horizontalListSortingStrategy}>
          {steps.map((step, i) =>
            step.id === open ? (
              <OpenStep key={step.id} step={step} before={steps[i - 1]?.id ?? AS_SHOT} />
            ) : (
              <StepCard key={step.id} step={step} />
            ),
          )}
        </SortableContext>
      </DndContext>
      <AddStep empty={steps.length === 0} />
    </Flex>
  );
}

export function Stage({ children }: { children: string }) {
  return (
    <Box fontFamily="felt" fontStyle="italic" color="mute" lineHeight="1.3" whiteSpace="nowrap">
      {children}
    </Box>
  );
}

export function Thumbnail({
  source,
  says,
  dimmed,
}: {
  source?: string;
  says: string;
  dimmed?: boolean;
}) {
  return (
    <Box
      width="96px"
      height="54px"
      bg="line"
      borderRadius="3px"
      overflow="hidden"
      opacity={dimmed ? 0.4 : 1}
    >
      {source && (
        <Image
          src={source}
          alt={says}
          width="100%"
          height="100%"
          objectFit="contain"
          draggable={false}
        />
      )}
    </Box>
  );
}

function StepCard({ step }: { step: Step }) {
  const thumbnail = useBench((s) => s.thumbnails[step.id]);
  const treatment = treatmentOf(step);
  const sortable = useSortable({ id: step.id });
  const says = step.on ? summary(step) : "off";
  return (
    <Card
      type="button"
      ref={sortable.setNodeRef}
      {...sortable.attributes}
      {...sortable.listeners}
      role="button"
      title="Click to open, drag to move (or M, arrows, M)"
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
      onClick={() => put({ open: step.id })}
    >
      <Stage>{treatment?.stage ?? ""}</Stage>
      <Thumbnail source={thumbnail} says={`After ${step.treatment}`} dimmed={!step.on} />
      <Box fontWeight="700" mt="3px" color={step.on ? "ink" : "mute"}>
        {titled(step.treatment)}
      </Box>
      <Box
        color="mute"
        fontSize="12px"
        whiteSpace="nowrap"
        overflow="hidden"
        textOverflow="ellipsis"
      >
        {says}
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
      <Key
        type="button"
        mt="21px"
        height="54px"
        flex="none"
        borderStyle="dashed"
        title="Add a step (N)"
        onClick={() => setChoosing(true)}
      >
        <Plus size={16} /> Add a step
      </Key>
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
      minW="270px"
      onKeyDown={(event) => event.key === "Escape" && setChoosing(false)}
    >
      <Box mb="6px">
        {empty ? "This look has no steps yet: it is the footage. Add the first." : "Add a step"}
      </Box>
      <Flex direction="column" gap="5px">
        {catalogue?.stages.map((stage) =>
          catalogue.treatments
            .filter((t) => t.stage === stage)
            .map((t, i) => (
              <Key
                key={t.kind}
                ref={
                  t === catalogue.treatments.find((x) => x.kind === "glow") && i === 0
                    ? first
                    : undefined
                }
                type="button"
                height="auto"
                py="5px"
                justifyContent="flex-start"
                whiteSpace="normal"
                textAlign="left"
                onClick={() => {
                  addStep(t);
                  setChoosing(false);
                }}
              >
                <Box as="span" fontFamily="felt" fontStyle="italic" color="mute" width="46px">
                  {stage}
                </Box>
                <Box as="span">
                  <b>{titled(t.kind)}</b> {t.says}
                </Box>
              </Key>
            )),
        )}
        {!empty && (
          <Key
            small
            tone="bare"
            type="button"
            alignSelf="flex-start"
            onClick={() => setChoosing(false)}
          >
            Not now
          </Key>
        )}
      </Flex>
    </Box>
  );
}

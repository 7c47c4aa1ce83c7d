import { Box, chakra, Flex } from "@chakra-ui/react";
import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { SortableContext, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { ArrowUp, X } from "lucide-react";
import { type PointerEventHandler, useEffect } from "react";
import type { Shape, Step } from "../../api/client";
import { shapeSays, shapesOf } from "../../model/masks";
import { capitalize } from "../../model/stepNames";
import { setState, useBench } from "../../store/bench";
import { addShape, joinShape, moveShape, removeShape } from "../../store/masks";
import { Button } from "../../ui/Button";

const Row = chakra("button");
const Select = chakra("select");

const JOINS: Shape["join"][] = ["add", "take away", "keep common"];

/** The shapes of a mask in the order they are joined in; a click sets one, a drag moves it. */
export function ShapeList({ step, set }: { step: Step; set: Shape | undefined }) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const shapes = shapesOf(step);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        const to = shapes.findIndex((shape) => shape.id === over?.id);
        if (to >= 0) moveShape(step, String(active.id), to);
      }}
    >
      <SortableContext
        items={shapes.map((shape) => shape.id)}
        strategy={verticalListSortingStrategy}
      >
        <Flex as="ul" direction="column" gap="3px" listStyleType="none" aria-label="Shapes">
          {shapes.map((shape, i) => (
            <ShapeRow
              key={shape.id}
              step={step}
              shape={shape}
              at={i}
              isSet={shape.id === set?.id}
            />
          ))}
        </Flex>
      </SortableContext>
    </DndContext>
  );
}

interface ShapeRowProps {
  step: Step;
  shape: Shape;
  at: number;
  isSet: boolean;
}

function ShapeRow({ step, shape, at, isSet }: ShapeRowProps) {
  const steps = useBench((s) => s.look?.steps) ?? [];
  const { node, setNodeRef, listeners, transform, transition, isDragging } = useSortable({
    id: shape.id,
  });
  useEffect(() => {
    if (isSet) node.current?.scrollIntoView({ block: "nearest" });
  }, [isSet, node]);
  return (
    <Flex
      as="li"
      ref={setNodeRef}
      align="center"
      gap="4px"
      borderWidth="1px"
      borderColor={isSet ? "tide" : "line"}
      borderRadius="6px"
      bg="sheet"
      pl="8px"
      pr="2px"
      height="28px"
      position="relative"
      zIndex={isDragging ? 3 : undefined}
      opacity={isDragging ? 0.8 : undefined}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <Row
        type="button"
        flex="1"
        minW="0"
        textAlign="left"
        cursor="pointer"
        truncate
        aria-pressed={isSet}
        title={`${shapeSays(steps, step, shape)}; drag to join it earlier or later`}
        onClick={() => setState({ shape: shape.id })}
        onPointerDown={listeners?.onPointerDown as PointerEventHandler}
        onKeyDown={(event) => {
          if (event.key === "Delete" || event.key === "Backspace") removeShape(step, shape.id);
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
      >
        <Box as="strong">{shape.id}</Box>{" "}
        <Box as="span" color="mute" fontSize="12px">
          {shape.invert ? "outside, " : ""}
          {shapeSays(steps, step, shape)}
        </Box>
      </Row>
      <Select
        aria-label={`How ${shape.id} joins`}
        title="What it does with the shapes before it"
        value={shape.join}
        onChange={(event) =>
          joinShape(step, shape.id, { join: event.target.value as Shape["join"] })
        }
        width="98px"
        flex="none"
        height="24px"
        fontSize="12px"
        color="ink"
        bg="sheet"
        cursor="pointer"
      >
        {JOINS.map((join) => (
          <option key={join} value={join}>
            {join}
          </option>
        ))}
      </Select>
      <Button
        small
        tone="bare"
        type="button"
        disabled={at === 0}
        aria-label={`Join ${shape.id} earlier`}
        title="Join it earlier"
        onClick={() => moveShape(step, shape.id, at - 1)}
      >
        <ArrowUp size={13} />
      </Button>
      <Button
        small
        tone="bare"
        type="button"
        aria-label={`Remove ${shape.id}`}
        title="Remove it (Delete)"
        onClick={() => removeShape(step, shape.id)}
      >
        <X size={13} />
      </Button>
    </Flex>
  );
}

/** Adds a shape of each kind. */
export function NewShape({ step }: { step: Step }) {
  const kinds = useBench((s) => s.catalogue?.shapes) ?? NONE;
  const drawing = useBench((s) => s.drawing);
  return (
    <Flex gap="3px" wrap="wrap" role="group" aria-label="Add a shape">
      {kinds.map((kind) =>
        kind.kind === "drawn" ? (
          <Button
            key={kind.kind}
            small
            type="button"
            height="24px"
            px="7px"
            tone={drawing ? "here" : "paper"}
            aria-pressed={drawing}
            title="Draw a path on the picture: click for corners, drag for round points"
            onClick={() => setState({ drawing: !drawing, examined: null })}
          >
            Draw
          </Button>
        ) : (
          <Button
            key={kind.kind}
            small
            type="button"
            height="24px"
            px="7px"
            title={kind.summary}
            onClick={() => addShape(step, kind.kind)}
          >
            {capitalize(kind.kind)}
          </Button>
        ),
      )}
      {drawing && (
        <Box color="mute" fontSize="12px" lineHeight="24px" role="status">
          Click on the picture; the first point or Enter closes it, Esc leaves.
        </Box>
      )}
    </Flex>
  );
}

const NONE: never[] = [];

import { Box, chakra, Flex } from "@chakra-ui/react";
import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import type { Step } from "../../api/client";
import { partsOf } from "../../model/fittings";
import { findStep } from "../../model/lookTree";
import type { OrderHint } from "../../model/orderHints";
import { stepName } from "../../model/stepNames";
import { summary } from "../../model/stepSummary";
import { bench, setState, useBench } from "../../store/bench";
import { moveStep } from "../../store/edits";
import { useOwn } from "../../store/fittings";
import { absentPackage, treatmentOf } from "../../store/look";
import { Button } from "../../ui/Button";
import { Stage } from "../../ui/Stage";
import { Thumbnail } from "../../ui/Thumbnail";

const Card = chakra("button");

/** How wide the path's pictures are, in CSS pixels: more where no step is open. */
export const LARGE = 98;
export const SMALL = 74;

/** Choose a step beside others, or no longer. */
function choose(id: string) {
  const chosen = new Set(bench().chosen);
  if (!chosen.delete(id)) chosen.add(id);
  setState({ chosen });
}

/** What the step's place does, and the move that mends it. */
function Hint({ hint }: { hint: OrderHint }) {
  return (
    <Button
      small
      type="button"
      height="auto"
      mt="3px"
      px="4px"
      py="1px"
      width="100%"
      whiteSpace="normal"
      lineHeight="1.15"
      fontSize="11px"
      color="ember"
      borderColor="ember"
      aria-label={`It ${hint.says}. Move it before that`}
      title={`Here it ${hint.says}. A click moves it before that.`}
      onClick={() => moveStep(hint.id, hint.to)}
    >
      {hint.says}
    </Button>
  );
}

/** The line at the side of a step on which what is dragged over it would land. */
function LandingLine({ id, index, activeIndex, isOver, isDragging }: Landing) {
  if (!isOver || isDragging || activeIndex < 0) return null;
  const side = activeIndex > index ? { left: "-6px" } : { right: "-6px" };
  return (
    <Box
      data-lands={activeIndex > index ? `before ${id}` : `after ${id}`}
      position="absolute"
      top="0"
      bottom="0"
      width="4px"
      borderRadius="2px"
      bg="ember"
      style={side}
    />
  );
}

type Landing = Pick<ReturnType<typeof useSortable>, "index" | "activeIndex" | "isOver"> & {
  id: string;
  isDragging: boolean;
};

/** A closed step: the picture after it, its name, and what tells it from others. */
export function StepCard({ step, hint }: { step: Step; hint: OrderHint | undefined }) {
  const thumbnail = useBench((s) => s.thumbnails[step.id]);
  const treatment = treatmentOf(step);
  const sortable = useSortable({ id: step.id });
  const chosen = useBench((s) => s.chosen.has(step.id));
  const own = partsOf(step.id, useOwn(step.id)).length;
  const walked = useBench((s) => s.walked?.step === step.id);
  const absent = absentPackage(step);
  const seen = step.on && !absent;
  const words = step.on ? summary(step, treatment) : "off";
  const width = useBench((s) => (findStep(s.look?.steps ?? [], s.open) ? SMALL : LARGE));
  return (
    <Box
      ref={sortable.setNodeRef}
      position="relative"
      width={`${width}px`}
      flex="none"
      style={{
        transform: CSS.Translate.toString(sortable.transform),
        transition: sortable.transition,
      }}
      zIndex={sortable.isDragging ? 3 : undefined}
      opacity={sortable.isDragging ? 0.75 : undefined}
    >
      <LandingLine id={step.id} {...sortable} />
      <Card
        type="button"
        {...sortable.attributes}
        {...sortable.listeners}
        role="button"
        title={`${step.note ? `${step.note} ` : ""}Click to open, drag to move (or M, arrows, M); Ctrl-click or Ctrl+Enter chooses several`}
        aria-pressed={chosen || undefined}
        outline={chosen || walked ? "2px solid" : undefined}
        outlineColor={chosen ? "tide" : "ember"}
        outlineOffset="3px"
        display="block"
        width="100%"
        textAlign="left"
        cursor="pointer"
        borderRadius="4px"
        onKeyDown={(event) => {
          if (event.ctrlKey && event.key === "Enter") {
            event.preventDefault(); // its click would open the step
            choose(step.id);
          } else sortable.listeners?.onKeyDown?.(event);
        }}
        onClick={(event) =>
          event.ctrlKey || event.metaKey ? choose(step.id) : setState({ open: step.id })
        }
      >
        <Flex justify="space-between" align="baseline">
          <Stage>{absent ? "not here" : (treatment?.stage ?? "several")}</Stage>
          {own > 0 && (
            <Box
              color="ink"
              fontSize="10px"
              lineHeight="12px"
              px="3px"
              borderWidth="1px"
              borderColor="ember"
              borderRadius="3px"
              title={`${own} of it this clip's own`}
              data-own
            >
              own
            </Box>
          )}
        </Flex>
        <Thumbnail
          width={width}
          source={thumbnail}
          alt={`After ${stepName(step).toLowerCase()}`}
          dimmed={!seen}
        />
        <Box fontWeight="700" mt="2px" color={seen ? "ink" : "mute"} truncate>
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
            bg={seen ? "tide" : "mute"}
            style={{ width: `${step.mix.amount * 100}%` }}
          />
        </Box>
      </Card>
      {hint && <Hint hint={hint} />}
    </Box>
  );
}

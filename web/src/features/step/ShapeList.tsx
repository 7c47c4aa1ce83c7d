import { Box, chakra, Flex } from "@chakra-ui/react";
import { ArrowUp, X } from "lucide-react";
import type { Shape, Step } from "../../api/client";
import { shapeSays, shapesOf } from "../../model/masks";
import { titled } from "../../model/stepNames";
import { setState, useBench } from "../../store/bench";
import { addShape, joinShape, moveShape, removeShape } from "../../store/masks";
import { Button } from "../../ui/Button";

const Row = chakra("button");
const Select = chakra("select");

const JOINS: Shape["join"][] = ["add", "take away", "keep common"];

/** The shapes of a mask in the order they are joined in; a click sets one. */
export function ShapeList({ step, set }: { step: Step; set: Shape | undefined }) {
  const steps = useBench((s) => s.look?.steps) ?? [];
  return (
    <Flex as="ul" direction="column" gap="3px" listStyleType="none" aria-label="Shapes">
      {shapesOf(step).map((shape, i) => (
        <Flex
          as="li"
          key={shape.id}
          align="center"
          gap="4px"
          borderWidth="1px"
          borderColor={shape.id === set?.id ? "tide" : "line"}
          borderRadius="6px"
          bg="sheet"
          pl="8px"
          pr="2px"
          height="28px"
        >
          <Row
            type="button"
            flex="1"
            minW="0"
            textAlign="left"
            cursor="pointer"
            truncate
            aria-pressed={shape.id === set?.id}
            title={shapeSays(steps, step, shape)}
            onClick={() => setState({ shape: shape.id })}
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
            disabled={i === 0}
            aria-label={`Join ${shape.id} earlier`}
            title="Join it earlier"
            onClick={() => moveShape(step, shape.id, i - 1)}
          >
            <ArrowUp size={13} />
          </Button>
          <Button
            small
            tone="bare"
            type="button"
            aria-label={`Take out ${shape.id}`}
            title="Take it out (Delete)"
            onClick={() => removeShape(step, shape.id)}
          >
            <X size={13} />
          </Button>
        </Flex>
      ))}
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
            {titled(kind.kind)}
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

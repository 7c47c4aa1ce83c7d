import type { PathPoint, SettingValue, Shape, Step } from "../api/client";
import { freshId } from "../model/copies";
import { withRow, withStep } from "../model/lookTree";
import {
  freshShapeId,
  keyName,
  madeShape,
  shapesOf,
  sourceOf,
  unlinkShape,
  withMask,
  withOwnShapes,
  withoutShape,
} from "../model/masks";
import { bench, setState } from "./bench";
import { changeStep, changeValues, edit, takenIds } from "./edits";

const steps = () => bench().look?.steps ?? [];

/** Add a shape of a kind to a step's mask; it is the one that is set then. */
export function addShape(
  step: Step,
  kind: string,
  fields: Partial<Shape> = {},
  name = kind,
): string | undefined {
  const made = bench().catalogue?.shapes.find((s) => s.kind === kind);
  if (!made) return undefined;
  const id = freshShapeId(step, name);
  changeStep(step.id, (s) => withMask(s, [...shapesOf(s), madeShape(made, id, fields)]));
  setState({ shape: id, drawing: false });
  return id;
}

/** Draw a path on the picture: it becomes a shape when it is closed. */
export const addPath = (step: Step, points: PathPoint[]) => addShape(step, "drawn", { points });

/** Give a shape values: of its outline to the one it is the same as. */
export function changeShape(
  step: Step,
  shape: Shape,
  values: [string, SettingValue][],
  send = true,
) {
  const source = sourceOf(steps(), step, shape);
  const named = values.map(([f, value]): [string, SettingValue] => [
    keyName(source.shape, f),
    value,
  ]);
  changeValues(source.step.id, named, send);
}

/** What of a shape is its own, though it be the same as another's. */
type Joined = Partial<Pick<Shape, "join" | "strength" | "invert">>;

/** Change how a shape joins: that is its own, though it be the same as another's. */
export const joinShape = (step: Step, id: string, fields: Joined, send = true) =>
  changeStep(
    step.id,
    (s) =>
      withMask(
        s,
        shapesOf(s).map((shape) => (shape.id === id ? { ...shape, ...fields } : shape)),
      ),
    send,
  );

/** Remove a shape; where others are the same as it, they become their own. */
export function removeShape(step: Step, id: string) {
  edit((look) => {
    const isRemoved = (of: string, shape: string) => of === step.id && shape === id;
    const own = withOwnShapes(look.steps, look.steps, isRemoved);
    return { ...look, steps: withStep(own, step.id, (s) => withoutShape(s, id)) };
  });
  setState({ shape: shapesOf(step).find((s) => s.id !== id)?.id ?? null });
}

/** Move a shape earlier in the order in which they are joined. */
export const moveShape = (step: Step, id: string, to: number) =>
  changeStep(step.id, (s) => {
    const mask = shapesOf(s);
    const from = mask.findIndex((shape) => shape.id === id);
    const shape = mask[from];
    if (!shape || to < 0 || to >= mask.length) return s;
    return withMask(s, mask.toSpliced(from, 1).toSpliced(to, 0, shape));
  });

/** Have another step show in the same shape, which stays one with it. */
export function shareShape(step: Step, shape: Shape, other: string) {
  const source = sourceOf(steps(), step, shape);
  changeStep(other, (s) => {
    const made = sameShape(freshShapeId(s, source.shape.id), source.step.id, source.shape.id);
    return withMask(s, [...shapesOf(s), made]);
  });
}

const sameShape = (id: string, step: string, shape: string): Shape => ({
  id,
  same_as: `${step}.${shape}`,
  join: "add",
  strength: 1,
  invert: false,
});

/** Make a shape that is the same as another's its own. */
export const partShape = (step: Step, id: string) =>
  edit((look) => ({
    ...look,
    steps: withStep(look.steps, step.id, (s) => unlinkShape(look.steps, s, id)),
  }));

/** Bring the footage back inside a step's shapes, whatever stands before: a step of its own. */
export function bringBackFootage(step: Step) {
  const id = freshId("bundle", takenIds());
  const back: Step = {
    id,
    treatment: "bundle",
    name: "Footage brought back",
    settings: { steps: [] },
    mix: {
      blend: "normal",
      amount: 1,
      input: "footage",
      mask: shapesOf(step).map((shape) => {
        const source = sourceOf(steps(), step, shape);
        const { join, strength, invert } = shape;
        return { ...sameShape(shape.id, source.step.id, source.shape.id), join, strength, invert };
      }),
    },
    on: true,
  };
  edit((look) => ({
    ...look,
    steps: withRow(look.steps, step.id, (row) =>
      row.flatMap((s) => (s.id === step.id ? [s, back] : [s])),
    ),
  }));
  setState({ open: id, question: "where", shape: back.mix.mask?.[0]?.id ?? null });
}

/** The shape of the open step that is set: the one chosen, or the first. */
export function chosenShape(step: Step, shape: string | null): Shape | undefined {
  const mask = shapesOf(step);
  return mask.find((s) => s.id === shape) ?? mask[0];
}

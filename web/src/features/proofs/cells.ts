import type { Shot } from "../../api/client";
import { MOST } from "../../model/proofs";
import { combineVariants, type Tried, type Variant } from "./variants";

/** A variant on a shot. */
export interface Placed {
  variant: Variant;
  shot: Shot;
}

export const keyOf = ({ variant, shot }: Placed) =>
  JSON.stringify([variant.key, shot.clip, shot.frame]);

/** A sheet's cells, row by row. */
export interface Arrangement {
  cells: Placed[];
  /** How many make a row; null where they fill the sheet line by line. */
  columns: number | null;
  /** What stands before each row, and over each column; none where they fill it. */
  rowVariants: Variant[];
  columnCaptions: string[];
  /** Rows, or cells, for which there is no room. */
  leftOut: number;
  of: number;
}

/** Where what is tried stands: rows by columns, rows by shots, or line by line. */
export function arrangement(
  { rows, columns }: Tried,
  shots: Shot[],
  nameOf: (shot: Shot) => string,
): Arrangement {
  const [first] = shots;
  if (columns.length && first) {
    const kept = rows.slice(0, Math.floor(MOST / columns.length));
    return {
      cells: kept.flatMap((row) =>
        columns.map((column) => ({ variant: combineVariants(row, column), shot: first })),
      ),
      columns: columns.length,
      rowVariants: kept.map((row) => ({ ...row, takeForEvery: undefined })),
      columnCaptions: columns.map((column) => column.caption),
      leftOut: rows.length - kept.length,
      of: rows.length,
    };
  }
  const kept = rows.slice(0, Math.floor(MOST / Math.max(shots.length, 1)));
  const inRows = shots.length > 1 && kept.length > 1;
  return {
    cells: kept.flatMap((variant) => shots.map((shot) => ({ variant, shot: variant.at ?? shot }))),
    columns: inRows ? shots.length : null,
    rowVariants: inRows ? kept : [],
    columnCaptions: inRows ? shots.map(nameOf) : [],
    leftOut: rows.length - kept.length,
    of: rows.length,
  };
}

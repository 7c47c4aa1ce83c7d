/** Vitest lists what failed by `Map.groupBy`, which Node has from version 21 on. */

type GroupBy = <K, T>(items: Iterable<T>, keyOf: (item: T) => K) => Map<K, T[]>;

const groupBy: GroupBy = (items, keyOf) => {
  const groups = new Map();
  for (const item of items) {
    const key = keyOf(item);
    groups.set(key, [...(groups.get(key) ?? []), item]);
  }
  return groups;
};

(Map as { groupBy?: GroupBy }).groupBy ??= groupBy;

/** Small pictures that the server makes: one after another, and none while it makes what is waited for. */

type Begin = () => void;

const waiting: Begin[] = [];
let loading: Begin | null = null;
let held = false;

function startNext() {
  if (loading || held) return;
  loading = waiting.shift() ?? null;
  loading?.();
}

/** Begin a picture when it is its turn; what is returned says that it came, or is not wanted. */
export function takeTurn(begin: Begin): () => void {
  waiting.push(begin);
  startNext();
  return () => {
    const at = waiting.indexOf(begin);
    if (at >= 0) waiting.splice(at, 1);
    if (loading !== begin) return;
    loading = null;
    startNext();
  };
}

/** Have none begin, for as long as something larger is on its way. */
export function holdTurns(hold: boolean) {
  held = hold;
  startNext();
}

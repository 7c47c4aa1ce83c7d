import { newestDue } from "../model/playClock";
import { playSocket } from "./playRequest";

/** Frames of play on their way: over a socket, each with the time it is due at. */

export interface Came {
  /** How many frames after the first one it is due. */
  at: number;
  result: ImageBitmap;
  base: ImageBitmap | null;
}

export interface Heard {
  /** Which frames are kept for smooth play. */
  held?: (frames: number[]) => void;
  /** Play broke off, and why. */
  failed: (why: string) => void;
  ended: () => void;
}

export class FrameStream {
  private socket: WebSocket;
  private waiting: Came[] = [];
  private shown = -1;

  /** Ask for frames, of which the first is due so many after play began. */
  constructor(
    ask: object,
    private begun: number,
    heard: Heard,
  ) {
    this.socket = playSocket();
    this.socket.binaryType = "arraybuffer";
    this.socket.onopen = () => this.socket.send(JSON.stringify({ type: "start", ...ask }));
    this.socket.onmessage = ({ data }) => {
      if (typeof data !== "string") return void this.take(data);
      const message = JSON.parse(data) as { type: string; detail?: string; frames?: number[] };
      if (message.type === "held") heard.held?.(message.frames ?? []);
      if (message.type === "error") heard.failed(message.detail ?? "play broke off");
    };
    this.socket.onclose = heard.ended;
  }

  /** Whether any frame has come that was not taken yet. */
  get isReady(): boolean {
    return this.waiting.length > 0;
  }

  /** The newest frame that is due and later than those before; what is passed by is left out. */
  newest(due: number): Came | undefined {
    const { next, rest, done } = newestDue(this.waiting, due, this.shown);
    this.waiting = rest;
    // every frame that came is answered, those left out as well: the server sends as many ahead
    for (let i = 0; i < done; i += 1)
      if (this.socket.readyState === WebSocket.OPEN)
        this.socket.send(JSON.stringify({ type: "shown", due: due - this.begun }));
    if (next) this.shown = next.at;
    return next;
  }

  close() {
    this.socket.onclose = null;
    this.socket.onmessage = null;
    this.socket.close();
    this.waiting = [];
  }

  private async take(data: ArrayBuffer) {
    const header = new DataView(data);
    const at = header.getUint32(0, true) + this.begun;
    const length = header.getUint32(4, true);
    const jpeg = (start: number, end: number) =>
      createImageBitmap(
        new Blob([new Uint8Array(data, start, end - start)], { type: "image/jpeg" }),
      );
    const result = await jpeg(8, 8 + length);
    const end = data.byteLength;
    const base = end > 8 + length ? await jpeg(8 + length, end) : null;
    this.waiting.push({ at, result, base });
    this.waiting.sort((a, b) => a.at - b.at);
  }
}

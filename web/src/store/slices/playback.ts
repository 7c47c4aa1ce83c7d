/** What is played, how fast, and which frames have been seen. */
export interface PlaybackSlice {
  playing: boolean;
  /** Frames a second that were shown of late; null while too few came. */
  speed: number | null;
  /** Frames left out since play began, to stay with the clock. */
  dropped: number;
  /** Pictures are smaller in this play, to keep its rate. */
  smaller: boolean;
  /** Half speed. */
  slow: boolean;
  /** Without sound. */
  quiet: boolean;
  /** First and last frame of what is played round and round; null is the whole clip. */
  range: [number, number] | null;
  /** Frames that are made already and come at once. */
  played: Set<number>;
  /** Frames of the clip that were looked at. */
  looked: Set<number>;
}

export const initialPlayback: PlaybackSlice = {
  playing: false,
  speed: null,
  dropped: 0,
  smaller: false,
  slow: false,
  quiet: false,
  range: null,
  played: new Set(),
  looked: new Set(),
};

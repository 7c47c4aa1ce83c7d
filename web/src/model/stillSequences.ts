/** Numbered stills among files that are brought in, and how they are sent as one clip. */
export interface Shot {
  /** Like `shot.%04d.png`. */
  name: string;
  stills: File[];
}

const STILL = /^(.*?)(\d+)(\.(?:png|tiff?|exr))$/i;
const BLOCK = 512;

/** Two or more stills whose names differ in their last number alone are a shot. */
export function shotsOf(files: File[]): { shots: Shot[]; rest: File[] } {
  const named = new Map<string, File[]>();
  const found = files.map((file) => ({ file, parts: file.name.match(STILL) }));
  const padded = new Set(
    found.flatMap(({ parts }) => (parts && /^0\d/.test(parts[2] ?? "") ? [ends(parts)] : [])),
  );
  for (const { file, parts } of found) {
    if (!parts || file.name.includes("%")) continue;
    const width = padded.has(ends(parts)) ? `0${parts[2]?.length}` : "";
    const name = `${parts[1]}%${width}d${parts[3]}`;
    named.set(name, [...(named.get(name) ?? []), file]);
  }
  const shots = [...named]
    .filter(([, stills]) => stills.length > 1)
    .map(([name, stills]) => ({ name, stills }));
  const taken = new Set(shots.flatMap((shot) => shot.stills));
  return { shots, rest: files.filter((file) => !taken.has(file)) };
}

const ends = (parts: RegExpMatchArray) => `${parts[1]}/${parts[3]}`;

/** The stills as one tar archive (POSIX.1-2001), which refers to them: none is read here. */
export function packStills(stills: File[]): Blob {
  const parts = stills.flatMap((file) => [
    header(file),
    file,
    new Uint8Array((BLOCK - (file.size % BLOCK)) % BLOCK),
  ]);
  return new Blob([...parts, new Uint8Array(2 * BLOCK)]);
}

/** The block before a file: its name, its size in octal digits, and the sum of the block's bytes. */
function header(file: File): Uint8Array<ArrayBuffer> {
  const block = new Uint8Array(BLOCK);
  const write = (text: string, at: number) => block.set(new TextEncoder().encode(text), at);
  const octal = (value: number, digits: number) => value.toString(8).padStart(digits, "0");
  write(file.name, 0);
  write(octal(0o644, 7), 100);
  write(octal(file.size, 11), 124);
  write(octal(0, 11), 136);
  write("        0", 148);
  write("ustar\u000000", 257);
  const sum = block.reduce((total, byte) => total + byte, 0);
  write(`${octal(sum, 6)}\u0000 `, 148);
  return block;
}

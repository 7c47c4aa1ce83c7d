import { Box, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { measureGrain } from "../../api/client";
import { listGrains } from "../../api/lists";
import { arriving } from "../../store/arrivals";
import { importFiles } from "../../store/importFiles";
import { usePlates } from "../../store/plates";
import { Button } from "../../ui/Button";

const Select = chakra("select");

const MEASURE = "measure:";

/** Which measured grain of the project; or one that is measured on a plate now. */
export function GrainChoice({
  value,
  onChoose,
}: {
  value: string;
  onChoose: (file: string) => void;
}) {
  const picker = useRef<HTMLInputElement>(null);
  const grains = useQuery({ queryKey: ["grains"], queryFn: listGrains });
  const plates = usePlates();
  const set = grains.data?.find((grain) => grain.file === value);
  const choose = async (chosen: string) => {
    if (!chosen.startsWith(MEASURE)) return onChoose(chosen);
    const file = chosen.slice(MEASURE.length);
    const title = plates?.find((plate) => plate.file === file)?.title ?? file;
    const made = await arriving(`grain of ${title}`, "Measuring", () => measureGrain(file));
    if (made) onChoose(made.file);
  };
  return (
    <Box>
      <Flex gap="6px" align="center">
        <Select
          aria-label="Scan"
          value={value}
          onChange={(event) => void choose(event.target.value)}
          flex="1"
          minW="0"
          height="28px"
          px="7px"
          bg="sheet"
          borderWidth="1px"
          borderColor="line"
          borderRadius="5px"
        >
          <option value="">none yet: choose, or measure one</option>
          {value !== "" && grains.data && !set && (
            <option value={value}>{value}, which is not here</option>
          )}
          <optgroup label="Grain of the project">
            {grains.data?.map((grain) => (
              <option key={grain.file} value={grain.file}>
                {grain.title}
              </option>
            ))}
          </optgroup>
          <optgroup label="Measure on a plate: even film, patches or a ramp">
            {plates?.map((plate) => (
              <option key={plate.file} value={`${MEASURE}${plate.file}`}>
                {plate.title}
              </option>
            ))}
          </optgroup>
        </Select>
        <Button small type="button" onClick={() => picker.current?.click()}>
          Bring in…
        </Button>
      </Flex>
      {set && (
        <Flex color="mute" fontSize="12px" mt="5px" justify="space-between" gap="8px">
          <Box>{toneWords(set.tones)}</Box>
          <chakra.a
            href={`/api/v1/grains/${encodeURIComponent(set.file)}/file`}
            download
            fontSize="12px"
            color="tide"
            textDecoration="underline"
          >
            Save
          </chakra.a>
        </Flex>
      )}
      <input
        ref={picker}
        type="file"
        accept=".grain"
        aria-label="Grain to bring in"
        hidden
        onChange={(event) => {
          void importFiles([...(event.target.files ?? [])]);
          event.target.value = "";
        }}
      />
    </Box>
  );
}

const percent = (share: number) => (100 * share).toFixed(1);

/** How strong grain is, in words. */
function toneWords(tones: { luma: number; rms: number[] }[]): string {
  const mean = tones.map(({ rms }) => rms.reduce((sum, each) => sum + each, 0) / rms.length);
  const [first, last] = [tones[0], tones[tones.length - 1]];
  if (!first || !last) return "";
  if (tones.length === 1)
    return `${percent(mean[0] ?? 0)} % of white in a tone of ${percent(first.luma)} %`;
  return (
    `${percent(Math.min(...mean))} to ${percent(Math.max(...mean))} % of white in ` +
    `${tones.length} tones, ${percent(first.luma)} to ${percent(last.luma)} %`
  );
}

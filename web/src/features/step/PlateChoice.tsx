import { Box, chakra, Flex } from "@chakra-ui/react";
import { useRef, useState } from "react";
import type { Plate } from "../../api/client";
import { useClips } from "../../store/clips";
import { importFiles } from "../../store/importFiles";
import { notice } from "../../store/notices";
import { useKinds, useNewPlates, usePlates } from "../../store/plates";
import { Button } from "../../ui/Button";

const Select = chakra("select");

/** Which plate of the project; or one made from a clip, or anew. Others are brought in here too. */
export function PlateChoice({
  value,
  onChoose,
}: {
  value: string;
  onChoose: (file: string, plate: Plate | undefined, shuffles?: boolean) => void;
}) {
  const picker = useRef<HTMLInputElement>(null);
  const [making, setMaking] = useState("");
  const plates = usePlates();
  const clips = useClips();
  const kinds = useKinds();
  const { make, ofClip } = useNewPlates();
  const known = value === "" || plates?.some((plate) => plate.file === value);
  const choose = async (chosen: string) => {
    const [way, name] = [chosen.slice(0, 5), chosen.slice(5)];
    if (way !== "clip:" && way !== "make:")
      return onChoose(
        chosen,
        plates?.find((plate) => plate.file === chosen),
      );
    setMaking(way === "make:" ? `Making ${name} …` : "Taking the clip …");
    try {
      const plate = await (way === "make:" ? make(name) : ofClip(Number(name)));
      if (!plate) return; // stopped, or listed with what failed
      onChoose(plate.file, plate, kinds.find(({ kind }) => kind === name)?.shuffles);
    } catch (error) {
      notice("look", error);
    } finally {
      setMaking("");
    }
  };
  return (
    <Flex gap="6px" align="center">
      <Select
        aria-label="Plate"
        value={value}
        disabled={making !== ""}
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
        <option value="">{making || "none yet: choose, or drop one"}</option>
        {!known && <option value={value}>{value}, which is not here</option>}
        <optgroup label="Plates of the project">
          {plates?.map((plate) => (
            <option key={plate.file} value={plate.file}>
              {plate.title}, {plate.frames === 1 ? "a picture" : `${plate.frames} frames`}
              {plate.matte ? ", clear in places" : ""}
            </option>
          ))}
        </optgroup>
        <optgroup label="A clip, as a second exposure">
          {clips.data?.map((clip) => (
            <option key={clip.id} value={`clip:${clip.id}`}>
              {clip.name}
            </option>
          ))}
        </optgroup>
        <optgroup label="Make one">
          {kinds.map(({ kind, summary }) => (
            <option key={kind} value={`make:${kind}`} title={summary}>
              {kind}: {summary}
            </option>
          ))}
        </optgroup>
      </Select>
      <Button small type="button" onClick={() => picker.current?.click()}>
        Bring in…
      </Button>
      <Box aria-live="polite" srOnly>
        {making}
      </Box>
      <input
        ref={picker}
        type="file"
        accept="image/png,image/jpeg,image/tiff,video/*"
        aria-label="Plate to bring in"
        hidden
        onChange={(event) => {
          void importFiles([...(event.target.files ?? [])], "plate");
          event.target.value = "";
        }}
      />
    </Flex>
  );
}

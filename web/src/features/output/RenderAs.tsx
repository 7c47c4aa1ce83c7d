import { Box, chakra, Flex, Grid } from "@chakra-ui/react";
import { useState } from "react";
import { useBench } from "../../store/bench";
import { useRenderOptions } from "../../store/renders";
import { FlashCheck } from "./FlashCheck";
import { AsSelect, field, QualitySelect, SizeSelect } from "./WantedSelects";

const Input = chakra("input");

/** What the next render of the clip is to be: its codec, quality, size and frames. */
export function RenderAs() {
  const clip = useBench((s) => s.clip);
  const look = useBench((s) => s.look);
  const moving = useBench((s) => s.moving);
  if (!clip) return null;
  return (
    <>
      <Grid
        templateColumns="minmax(0, 1fr) minmax(0, 1fr)"
        gap="4px"
        mb="8px"
        fontSize="12px"
        alignItems="center"
      >
        <AsSelect ground="wall" />
        <QualitySelect ground="wall" />
        <SizeSelect ground="wall" width={clip.width} height={clip.height} />
        <Flex gap="5px" align="center" title="First and last frame of the result">
          <Frame name="first" label="First frame" empty={0} maximum={clip.frames - 1} />
          <Box>to</Box>
          <Frame name="last" label="Last frame" empty={clip.frames - 1} maximum={clip.frames - 1} />
        </Flex>
      </Grid>
      {look && !moving && (
        <Box mb="8px">
          <FlashCheck clips={[clip]} look={look} />
        </Box>
      )}
    </>
  );
}

interface FrameProps {
  name: "first" | "last";
  label: string;
  empty: number;
  maximum: number;
}

/** A frame's number; empty, it is the clip's own end. */
function Frame({ name, label, empty, maximum }: FrameProps) {
  const value = useRenderOptions((s) => s[name]);
  const [typed, setTyped] = useState<string | null>(null);
  const shown = typed ?? (value === null ? "" : String(value));
  const wrong = shown !== "" && !(/^\d+$/.test(shown) && Number(shown) <= maximum);
  return (
    <Input
      {...field("wall")}
      flex="1"
      width="0"
      minW="0"
      aria-label={label}
      aria-invalid={wrong}
      title={`0 to ${maximum}; empty for ${empty}`}
      placeholder={String(empty)}
      _placeholder={{ color: "wallMute" }}
      outline={wrong ? "2px solid" : undefined}
      outlineColor="ember"
      inputMode="numeric"
      value={shown}
      onChange={(event) => {
        const text = event.target.value.trim();
        setTyped(text);
        if (text === "") useRenderOptions.setState({ [name]: null });
        else if (/^\d+$/.test(text) && Number(text) <= maximum)
          useRenderOptions.setState({ [name]: Number(text) });
      }}
      onBlur={() => setTyped(null)}
    />
  );
}

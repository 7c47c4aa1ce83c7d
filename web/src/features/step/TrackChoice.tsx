import { Box } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { useBench } from "../../store/bench";
import { useTracks } from "../../store/tracks";
import { Choice } from "../../ui/Choice";

/** Which track something rides on: one of this clip's. */
export function TrackChoice({
  value,
  help,
  onChoose,
  children,
}: {
  value: string;
  help?: string;
  onChoose: (file: string) => void;
  children?: ReactNode;
}) {
  const tracks = useTracks();
  const clip = useBench((s) => s.clip?.id);
  const set = tracks?.find((track) => track.file === value);
  const own = tracks?.filter((track) => track.clip === clip || track.file === value) ?? [];
  const other = value !== "" && tracks !== undefined && set?.clip !== clip;
  return (
    <>
      <Choice
        label="Follows"
        help={help ?? "A track: it moves as what that follows"}
        value={value}
        choices={[
          { value: "", word: "nothing" },
          ...(value !== "" && tracks && !set
            ? [{ value, word: `${value}, which is not here` }]
            : []),
          ...own.map((track) => ({
            value: track.file,
            word: `${track.title} · from ${track.begin}${track.smooth ? " · smooth" : ""}`,
          })),
        ]}
        onChoose={onChoose}
      >
        {children}
      </Choice>
      {other && (
        <Box color="ember" fontSize="12px" role="status">
          {set ? "That track is of another clip: here it moves nothing." : "It moves nothing."}
        </Box>
      )}
    </>
  );
}

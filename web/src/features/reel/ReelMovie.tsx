import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import type { Reel } from "../../api/client";
import { countWords, fileSize, when } from "../../model/words";
import { useBench } from "../../store/bench";
import { followMovie, makeMovie, moviesQuery, stopMovie, useMovie } from "../../store/reelMovie";
import { Button } from "../../ui/Button";
import { ProgressLine } from "../../ui/ProgressLine";

/** Movies that are listed, those made last; all lie in the project's renders. */
const LISTED = 3;

/** The reel as one movie with its sound: made of its shots' renders, and taken when it is whole. */
export function ReelMovie({ reel }: { reel: Reel }) {
  const readOnly = useBench((s) => s.readOnly);
  const movie = useMovie((s) => (s.movie?.reel === reel.id ? s.movie : null));
  const made = useQuery(moviesQuery(reel.id));
  useEffect(() => {
    void followMovie();
  }, []);
  return (
    <Box borderTopWidth="1px" borderColor="line" pt="8px">
      <Box mb="4px">The whole cut as one movie with its sound, without handles</Box>
      {movie?.running ? (
        <ProgressLine
          small
          {...movie}
          rate={0}
          says={movie.done < movie.total ? "Frame" : "Joining, frame"}
          label={`Making ${movie.title} one movie`}
          stop="The renders of its shots go on"
          onStop={() => void stopMovie()}
        />
      ) : (
        <Button
          type="button"
          width="100%"
          disabled={readOnly}
          title="Shots that are not rendered so already are rendered first"
          onClick={() => void makeMovie(reel)}
        >
          Make one movie
        </Button>
      )}
      {(made.data ?? []).slice(0, LISTED).map(({ file, frames, bytes, made: at }) => (
        <Flex key={file} align="center" gap="8px" mt="6px">
          <Box flex="1" minW="0">
            <Box truncate title={file}>
              {file}
            </Box>
            <Box color="mute" fontSize="12px">
              {when(at)} · {countWords(frames, "frame")} · {fileSize(bytes)}
            </Box>
          </Box>
          <Button small asChild>
            <a
              href={`/api/v1/movies/${encodeURIComponent(file)}/file`}
              aria-label={`Download ${file}`}
              download
            >
              Download
            </a>
          </Button>
        </Flex>
      ))}
      {movie?.error && (
        <Box color="ember" mt="4px">
          {movie.error}
        </Box>
      )}
    </Box>
  );
}

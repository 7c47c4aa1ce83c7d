import { Box, Flex } from "@chakra-ui/react";
import { useEffect } from "react";
import type { Reel } from "../../api/client";
import { useBench } from "../../store/bench";
import { followMovie, makeMovie, stopMovie, useMovie } from "../../store/reelMovie";
import { Button } from "../../ui/Button";
import { ProgressLine } from "../../ui/ProgressLine";

/** The reel as one movie with its sound: made of its shots' renders, and taken when it is whole. */
export function ReelMovie({ reel }: { reel: Reel }) {
  const readOnly = useBench((s) => s.readOnly);
  const movie = useMovie((s) => (s.movie?.reel === reel.id ? s.movie : null));
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
        <Flex gap="6px">
          <Button
            type="button"
            flex="1"
            disabled={readOnly}
            title="Shots that are not rendered so already are rendered first"
            onClick={() => void makeMovie(reel)}
          >
            Make one movie
          </Button>
          {movie?.file && (
            <Button asChild flex="1">
              <a
                href={`/api/v1/movies/${encodeURIComponent(movie.file)}/file`}
                aria-label={`Download ${movie.file}`}
                title={movie.file}
                download
              >
                Download
              </a>
            </Button>
          )}
        </Flex>
      )}
      {movie?.error && (
        <Box color="ember" mt="4px">
          {movie.error}
        </Box>
      )}
    </Box>
  );
}

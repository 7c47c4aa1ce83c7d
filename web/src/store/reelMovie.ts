import { create } from "zustand";
import { api, type Movie, type Reel, unwrap } from "../api/client";
import { listMovies } from "../api/lists";
import { queryClient } from "../api/queries";
import { follow } from "./following";
import { inWords } from "./look";
import { notice } from "./notices";
import { reelKept } from "./reel";
import { useRenderOptions } from "./renders";

/** A reel as one movie: how far the one is that is being made, or was made last. */
export const useMovie = create<{ movie: Movie | null }>(() => ({ movie: null }));

/** The movies that were made of a reel, the last one first. */
export const moviesQuery = (reel: number) => ({
  queryKey: ["movies", reel],
  queryFn: () => listMovies(reel),
});

/** Whether somebody asks for news already. */
let asking = false;

/** Make one movie of a reel, as is wanted. */
export async function makeMovie(reel: Reel) {
  const { codec, quality, bits, height, overlay } = useRenderOptions.getState();
  try {
    await reelKept();
    const result = { codec, quality, bits, height, overlay, first: 0, last: null };
    const body = { reel: reel.id, result };
    useMovie.setState({ movie: await unwrap(api.POST("/api/v1/movies/making", { body })) });
    await followMovie();
  } catch (error) {
    notice("reel", inWords(error));
  }
}

/** Ask how far a movie is until it is made, or can't be. */
export async function followMovie() {
  if (asking) return;
  asking = true;
  try {
    await follow(
      () => unwrap(api.GET("/api/v1/movies/making")),
      (movie) => {
        const ran = useMovie.getState().movie?.running;
        useMovie.setState({ movie });
        if (movie?.file) void queryClient.invalidateQueries({ queryKey: ["movies", movie.reel] });
        if (movie?.error && ran)
          notice("reel", `${movie.title}: no movie was made: ${movie.error}`);
        return true;
      },
    );
  } catch (error) {
    notice("reel", error);
  } finally {
    asking = false;
  }
}

export async function stopMovie() {
  try {
    await unwrap(api.POST("/api/v1/movies/making/stop"));
  } catch (error) {
    notice("reel", error);
  }
}

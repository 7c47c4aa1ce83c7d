import { api, unwrap } from "./client";

/** Lists of the project, whole: they come by pages. */

const PAGE = 1000;

async function whole<T>(page: (query: { limit: number; offset: number }) => Promise<T[]>) {
  const found: T[] = [];
  for (;;) {
    const more = await page({ limit: PAGE, offset: found.length });
    found.push(...more);
    if (more.length < PAGE) return found;
  }
}

export const listClips = () =>
  whole((query) => unwrap(api.GET("/api/v1/clips", { params: { query } })));

export const listLooks = () =>
  whole((query) => unwrap(api.GET("/api/v1/looks", { params: { query } })));

export const listReels = () =>
  whole((query) => unwrap(api.GET("/api/v1/reels", { params: { query } })));

export const listSounds = () =>
  whole((query) => unwrap(api.GET("/api/v1/sounds", { params: { query } })));

export const listMovies = (reel: number) =>
  whole((query) => unwrap(api.GET("/api/v1/movies", { params: { query: { ...query, reel } } })));

export const listPlates = () =>
  whole((query) => unwrap(api.GET("/api/v1/plates", { params: { query } })));

export const listTables = () =>
  whole((query) => unwrap(api.GET("/api/v1/tables", { params: { query } })));

export const listGrains = () =>
  whole((query) => unwrap(api.GET("/api/v1/grains", { params: { query } })));

export const listTracks = () =>
  whole((query) => unwrap(api.GET("/api/v1/tracks", { params: { query } })));

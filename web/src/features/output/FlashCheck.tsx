import { Box } from "@chakra-ui/react";
import { useQueries, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import type { Clip, Look, SteadinessReport } from "../../api/client";
import { findStep } from "../../model/lookTree";
import { stepName } from "../../model/stepNames";
import { knownSteadiness, useSteadiness } from "../../store/steadiness";

interface Props {
  clips: Clip[];
  /** The look as it stands on a clip. */
  lookOn: (clip: Clip) => Look;
  /** Clips nothing is known of are looked through, one after the other. */
  begin?: boolean;
}

/** Says before a render whether its result would fail the flash check. */
export function FlashCheck({ clips, lookOn, begin = false }: Props) {
  const known = useQueries({ queries: clips.map((clip) => knownSteadiness(clip, lookOn(clip))) });
  const at = known.findIndex((k) => k.data && !k.data.report);
  const next = at >= 0 ? clips[at] : undefined;
  const running = useSteadiness(
    next ?? null,
    next ? lookOn(next) : null,
    begin && next !== undefined,
  );
  const queries = useQueryClient();
  const came = running.data?.report;
  useEffect(() => {
    if (came) void queries.invalidateQueries({ queryKey: ["steadiness", "known"] });
  }, [came, queries]);
  const failing = clips.flatMap((clip, i) => {
    const report = known[i]?.data?.report;
    return report?.flashes.length ? [{ clip, report }] : [];
  });
  return (
    <Box fontSize="12px" lineHeight="1.35">
      {failing.map(({ clip, report }) => (
        <Box
          key={clip.id}
          role="alert"
          borderLeftWidth="3px"
          borderColor="ember"
          pl="7px"
          mb="4px"
          data-fails={clip.id}
        >
          <b>{clip.name} fails the flash check</b>: {saidOf(report, lookOn(clip))}{" "}
          <a href="#steadiness" style={{ textDecoration: "underline" }}>
            See Steadiness
          </a>
        </Box>
      ))}
      {next && begin && running.data?.stopped && (
        <Box role="status">{next.name} was not looked through to its end for flashes.</Box>
      )}
      {next && begin && !running.data?.error && !running.data?.stopped && (
        <Box role="status">
          Checking {next.name} for flashes:{" "}
          {Math.floor((100 * (running.data?.done ?? 0)) / Math.max(running.data?.total ?? 1, 1))} %
        </Box>
      )}
      {next && begin && running.data?.error && (
        <Box role="status">
          {next.name} could not be checked for flashes: {running.data.error}
        </Box>
      )}
      {next && !begin && (
        <Box>
          Not checked for flashes yet;{" "}
          <a href="#steadiness" style={{ textDecoration: "underline" }}>
            Steadiness
          </a>{" "}
          does.
        </Box>
      )}
      {!next && failing.length === 0 && clips.length > 0 && known.every((k) => k.data) && (
        <Box>Passes the flash check.</Box>
      )}
    </Box>
  );
}

function saidOf(report: SteadinessReport, look: Look): string {
  const seconds = report.flashes.reduce((sum, fault) => sum + fault.seconds, 0);
  const causes = new Set(
    report.flashes.map((fault) => {
      const step = findStep(look.steps, fault.step);
      return step ? stepName(step) : "the footage itself";
    }),
  );
  return `${seconds.toFixed(1)} s at fault, by ${[...causes].join(" and ")}.`;
}

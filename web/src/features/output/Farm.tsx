import { Box, chakra } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Farm as FarmState, unwrap } from "../../api/client";
import { setFarm } from "../../store/renders";
import { field } from "./WantedSelects";

const Select = chakra("select");

const ELSEWHERE =
  "To render on other machines, start the server with --cluster and a Dask scheduler's address; " +
  "its workers must see the project's folder under the same name.";

/** Where renders are made: by so many workers here, or by those of a scheduler named at the start. */
export function Farm() {
  const queries = useQueryClient();
  const farm = useQuery({ queryKey: ["farm"], queryFn: () => unwrap(api.GET("/api/v1/farm")) });
  if (!farm.data) return null;
  const { cores, workers, address, schedulers } = farm.data;
  const keep = async (wanted: { workers?: number; address?: string }) => {
    const kept = await setFarm(wanted);
    if (kept) queries.setQueryData<FarmState>(["farm"], kept);
  };
  const gone = address && !schedulers.includes(address) ? [address] : [];
  const counts = Array.from({ length: cores }, (_, i) => i + 1);
  return (
    <Box>
      <Box color="mute" mb="2px">
        Workers
      </Box>
      <Select
        {...field("paper")}
        aria-label="Where renders are made"
        title={ELSEWHERE}
        value={address ?? workers ?? ""}
        onChange={(event) => {
          const value = event.target.value;
          if (value.includes(":")) void keep({ address: value });
          else void keep(value ? { workers: Number(value) } : {});
        }}
      >
        <option value="">this machine, a worker a core ({cores})</option>
        {counts.map((count) => (
          <option key={count} value={count}>
            this machine, {count} worker{count > 1 ? "s" : ""}
          </option>
        ))}
        {[...schedulers, ...gone].map((scheduler) => (
          <option key={scheduler} value={scheduler}>
            {scheduler}
            {gone.includes(scheduler) && ", not at hand"}
          </option>
        ))}
      </Select>
    </Box>
  );
}

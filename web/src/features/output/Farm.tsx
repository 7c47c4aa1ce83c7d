import { Box, chakra } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Farm as FarmState, unwrap } from "../../api/client";
import { setFarm } from "../../store/renders";
import { field } from "./WantedSelects";

const Select = chakra("select");
const Input = chakra("input");

const ELSEWHERE = "elsewhere";

/** Where renders are made: by so many workers here, or by those of a scheduler. */
export function Farm() {
  const queries = useQueryClient();
  const farm = useQuery({ queryKey: ["farm"], queryFn: () => unwrap(api.GET("/api/farm")) });
  const [choosing, setChoosing] = useState(false);
  const [typed, setTyped] = useState<string | null>(null);
  if (!farm.data) return null;
  const { cores, workers, address } = farm.data;
  const keep = async (wanted: { workers?: number; address?: string }) => {
    const kept = await setFarm(wanted);
    if (!kept) return;
    queries.setQueryData<FarmState>(["farm"], kept);
    setTyped(null);
    setChoosing(false);
  };
  const elsewhere = choosing || Boolean(address);
  const counts = Array.from({ length: cores }, (_, i) => i + 1);
  return (
    <Box>
      <Box color="mute" mb="2px">
        Workers
      </Box>
      <Select
        {...field("paper")}
        aria-label="Where renders are made"
        value={elsewhere ? ELSEWHERE : (workers ?? "")}
        onChange={(event) => {
          const value = event.target.value;
          if (value === ELSEWHERE) setChoosing(true);
          else void keep(value ? { workers: Number(value) } : {});
        }}
      >
        <option value="">this machine, a worker a core ({cores})</option>
        {counts.map((count) => (
          <option key={count} value={count}>
            this machine, {count} worker{count > 1 ? "s" : ""}
          </option>
        ))}
        <option value={ELSEWHERE}>a Dask scheduler</option>
      </Select>
      {elsewhere && (
        <Input
          {...field("paper")}
          mt="4px"
          aria-label="Address of the scheduler"
          placeholder="tcp://10.0.0.5:8786"
          title="Its workers must see the project's folder under the same name. Enter keeps it."
          value={typed ?? address ?? ""}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter" && typed?.trim()) void keep({ address: typed.trim() });
            if (event.key === "Escape") setTyped(null);
          }}
          onBlur={() => {
            if (typed?.trim() && typed !== address) void keep({ address: typed.trim() });
          }}
        />
      )}
    </Box>
  );
}

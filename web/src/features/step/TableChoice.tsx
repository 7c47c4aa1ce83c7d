import { Box, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { listTables } from "../../api/lists";
import { importFiles } from "../../store/importFiles";
import { Button } from "../../ui/Button";

const Select = chakra("select");

/** Which look-up table of the project; another is brought in by dropping it, or here. */
export function TableChoice({
  value,
  onChoose,
}: {
  value: string;
  onChoose: (file: string) => void;
}) {
  const picker = useRef<HTMLInputElement>(null);
  const tables = useQuery({
    queryKey: ["tables"],
    queryFn: listTables,
  });
  const known = tables.data?.some((t) => t.file === value) || value === "";
  return (
    <Box>
      <Select
        aria-label="Look-up table"
        value={value}
        onChange={(event) => onChoose(event.target.value)}
        width="100%"
        height="28px"
        px="7px"
        bg="sheet"
        borderWidth="1px"
        borderColor="line"
        borderRadius="5px"
      >
        <option value="">none: colours stay</option>
        {!known && <option value={value}>{value}, which is not here</option>}
        {tables.data?.map((t) => (
          <option key={t.file} value={t.file}>
            {t.title}
          </option>
        ))}
      </Select>
      <Flex gap="6px" mt="6px" align="center">
        <Button small type="button" onClick={() => picker.current?.click()}>
          Bring in a table…
        </Button>
        <Box color="mute" fontSize="12px">
          .cube or .clf; or drop it
        </Box>
      </Flex>
      <input
        ref={picker}
        type="file"
        accept=".cube,.clf"
        aria-label="Table to bring in"
        hidden
        onChange={(event) => {
          void importFiles([...(event.target.files ?? [])]);
          event.target.value = "";
        }}
      />
    </Box>
  );
}

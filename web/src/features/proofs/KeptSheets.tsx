import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { KeptSheet, Sheet } from "../../api/client";
import { useBench } from "../../store/bench";
import { dropSheet, keepSheet, keptSheets, setSheet } from "../../store/proofs";
import { Button } from "../../ui/Button";
import { ListRow } from "../../ui/ListRow";
import { Popover } from "../../ui/Popover";
import { TextField } from "../../ui/TextField";

interface Props {
  /** What is open; none: only kept ones can be opened. */
  sheet: Sheet;
  title: string;
  onSave: ((file: "png" | "pdf") => void) | null;
}

/** Keep the sheet beside the look under a name, open another again, or save it as a file. */
export function KeptSheets({ sheet, title, onSave }: Props) {
  const [name, setName] = useState(title);
  const keep = () => {
    const given = name.trim();
    if (given) void keepSheet(given, sheet);
  };
  return (
    <Popover role="dialog" aria-label="Keep or save the sheet" width="340px">
      <Box color="mute" fontSize="12px" mb="3px">
        Keep it beside the look, as
      </Box>
      <Flex gap="6px">
        <TextField
          aria-label="Name of the sheet"
          flex="1"
          value={name}
          maxLength={120}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && keep()}
        />
        <Button type="button" onClick={keep}>
          Keep
        </Button>
      </Flex>
      <KeptList />
      <Flex gap="6px" mt="10px" pt="10px" borderTopWidth="1px" borderColor="line" align="center">
        <Box flex="1" fontSize="12px">
          Save with its captions
        </Box>
        <Button small type="button" disabled={!onSave} onClick={() => onSave?.("png")}>
          As a picture
        </Button>
        <Button small type="button" disabled={!onSave} onClick={() => onSave?.("pdf")}>
          As a PDF page
        </Button>
      </Flex>
    </Popover>
  );
}

/** The sheets that are kept beside the look. */
export function KeptList() {
  const lookId = useBench((s) => s.lookId);
  const kept = useQuery({ ...keptSheets(lookId ?? 0), enabled: lookId !== null });
  return (
    <Box
      as="ul"
      listStyleType="none"
      mt="6px"
      maxH="200px"
      overflowY="auto"
      aria-label="Kept sheets"
    >
      {kept.data?.map((each) => (
        <KeptRow key={each.id} kept={each} />
      ))}
    </Box>
  );
}

function KeptRow({ kept }: { kept: KeptSheet }) {
  const digest = useBench((s) => s.digest);
  return (
    <ListRow
      small
      onClick={() => setSheet(kept.sheet)}
      removal={`Let ${kept.name} go`}
      onRemove={() => void dropSheet(kept.id)}
    >
      <Box as="span" truncate>
        {kept.name}
      </Box>
      {digest !== kept.digest && (
        <Box as="span" color="ember" title="The look is another than when the sheet was kept">
          look changed since
        </Box>
      )}
    </ListRow>
  );
}

import { Box, Flex } from "@chakra-ui/react";
import { Trash2 } from "lucide-react";
import { useState } from "react";
import { useBench } from "../../store/bench";
import {
  deleteFile,
  type ProjectFile,
  restoreFile,
  useProjectFiles,
} from "../../store/projectFiles";
import { Button } from "../../ui/Button";
import { DeletedRow } from "../../ui/DeletedRow";

/** Plates, tables, tracks and grain of the project: what no look has can be deleted. */
export function ProjectFiles() {
  const readOnly = useBench((s) => s.readOnly);
  const files = useProjectFiles();
  const [deleted, setDeleted] = useState<ProjectFile | null>(null);
  if (!files.length && !deleted) return null;
  return (
    <Box mt="14px">
      <Box as="h2" fontFamily="felt" fontStyle="italic" fontSize="16px" mb="4px">
        Files of the project
      </Box>
      <Box as="ul" aria-label="Files of the project" listStyleType="none" fontSize="12px">
        {files.map((each) => (
          <Flex as="li" key={each.kind + each.file} align="center" gap="8px" minH="24px">
            <Box color="wallMute" width="36px">
              {each.word}
            </Box>
            <Box flex="1" minW="0" truncate title={each.title}>
              {each.title}
            </Box>
            {!readOnly && (
              <Button
                tone="wall"
                small
                type="button"
                aria-label={`Delete the ${each.word} ${each.title}`}
                title="Delete it from the project; it can be brought back"
                onClick={async () => {
                  if (await deleteFile(each)) setDeleted(each);
                }}
              >
                <Trash2 size={13} />
              </Button>
            )}
          </Flex>
        ))}
      </Box>
      {deleted && (
        <DeletedRow
          name={deleted.title}
          onRestore={async () => {
            if (await restoreFile(deleted)) setDeleted(null);
          }}
        />
      )}
    </Box>
  );
}

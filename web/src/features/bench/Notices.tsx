import { Box, Flex } from "@chakra-ui/react";
import { X } from "lucide-react";
import { useBench } from "../../store/bench";
import { dismiss } from "../../store/notices";
import type { Where } from "../../store/slices/page";
import { Button } from "../../ui/Button";

/** What went wrong here, until it has been read. */
export function Notices({ where }: { where: Where }) {
  const notices = useBench((s) => s.notices);
  const here = notices.filter((n) => n.where === where);
  return (
    <Flex direction="column" gap="6px" role="alert" aria-live="assertive">
      {here.map((n) => (
        <Flex
          key={n.id}
          bg="paper"
          color="ink"
          borderLeftWidth="4px"
          borderColor="ember"
          borderRadius="5px"
          pl="10px"
          pr="4px"
          py="6px"
          gap="8px"
          align="flex-start"
          boxShadow="0 1px 4px rgb(0 0 0 / 25%)"
        >
          <Box flex="1" overflowWrap="anywhere">
            {n.text}
          </Box>
          <Button
            tone="bare"
            small
            type="button"
            aria-label="I have read this"
            onClick={() => dismiss(n.id)}
          >
            <X size={14} />
          </Button>
        </Flex>
      ))}
    </Flex>
  );
}

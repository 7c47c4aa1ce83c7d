import { Box, chakra, Flex } from "@chakra-ui/react";
import type { Span } from "../../api/client";
import { FEWEST, MOST } from "../../model/proofs";
import { shownAs, UNITS } from "../../model/shownNumbers";
import { settingOf } from "../../store/proofs";
import { NumberField } from "../../ui/NumberField";

const Select = chakra("select");

interface Props {
  span: Span;
  step: string;
  name: string;
  /** Goes before the fields' names, where there are two. */
  of?: string;
  onChange: (span: Span) => void;
}

/** From which value to which, how many, and how they follow each other. */
export function SpanFields({ span, step, name, of, onChange }: Props) {
  const setting = settingOf(step, name);
  if (!setting) return null;
  const { scale, digits } = shownAs(setting);
  const minimum = (setting.minimum ?? -1e6) * scale;
  const maximum = (setting.maximum ?? 1e6) * scale;
  const field = (end: "low" | "high", label: string) => (
    <NumberField
      label={of ? `${of}: ${label.toLowerCase()}` : label}
      value={span[end] * scale}
      minimum={minimum}
      maximum={maximum}
      digits={digits}
      onEnter={(value) => onChange({ ...span, [end]: value / scale })}
    />
  );
  return (
    <Flex align="center" gap="5px">
      from {field("low", "From")} to {field("high", "To")}
      <Box color="mute" fontSize="12px">
        {UNITS[setting.unit]}
      </Box>
      <NumberField
        label={of ? `${of}: how many` : "How many"}
        value={span.count}
        minimum={FEWEST}
        maximum={MOST}
        digits={0}
        onEnter={(count) => onChange({ ...span, count: Math.round(count) })}
      />
      <Select
        aria-label={of ? `${of}: how they follow each other` : "How they follow each other"}
        value={span.way}
        height="26px"
        bg="sheet"
        borderWidth="1px"
        borderColor="line"
        borderRadius="5px"
        fontSize="12px"
        onChange={(event) =>
          onChange({ ...span, way: event.target.value === "even" ? "even" : "by ratio" })
        }
      >
        <option value="even">evenly</option>
        <option value="by ratio">by ratio</option>
      </Select>
    </Flex>
  );
}

import { Box, chakra, Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { Label } from "./Label";

const Select = chakra("select");

interface ChoiceProps {
  label: string;
  help?: string;
  value: string;
  choices: { value: string; word: string }[];
  onChoose: (value: string) => void;
  /** What stands after it, in its row. */
  children?: ReactNode;
}

/** One of several words. */
export function Choice({ label, help, value, choices, onChoose, children }: ChoiceProps) {
  return (
    <Flex align="center" gap="10px" height="25px" title={help}>
      <Box flex="1" lineHeight="1">
        <Label>{label}</Label>
      </Box>
      <Select
        aria-label={label}
        value={value}
        onChange={(event) => onChoose(event.target.value)}
        width="160px"
        height="23px"
        px="7px"
        bg="sheet"
        color="ink"
        borderWidth="1px"
        borderColor="line"
        borderRadius="5px"
        fontSize="13px"
        cursor="pointer"
      >
        {choices.map((choice) => (
          <option key={choice.value} value={choice.value}>
            {choice.word}
          </option>
        ))}
      </Select>
      {children}
    </Flex>
  );
}

interface SwitchProps {
  label: string;
  help?: string;
  on: boolean;
  /** Without its label beside it. */
  bare?: boolean;
  onSwitch: (on: boolean) => void;
}

/** On or off. */
export function Switch({ label, help, on, bare, onSwitch }: SwitchProps) {
  return (
    <Flex align="center" height="25px" title={help}>
      {!bare && (
        <Box flex="1">
          <Label>{label}</Label>
        </Box>
      )}
      <chakra.button
        type="button"
        role="switch"
        aria-checked={on}
        aria-label={label}
        onClick={() => onSwitch(!on)}
        display="flex"
        alignItems="center"
        gap="7px"
        cursor="pointer"
        borderRadius="4px"
        px="3px"
        color={on ? "tide" : "mute"}
      >
        {on ? "on" : "off"}
        <Box
          width="26px"
          height="14px"
          borderRadius="8px"
          bg={on ? "tide" : "line"}
          position="relative"
        >
          <Box
            position="absolute"
            top="2px"
            left={on ? "14px" : "2px"}
            width="10px"
            height="10px"
            borderRadius="50%"
            bg="sheet"
          />
        </Box>
      </chakra.button>
    </Flex>
  );
}

import { Box } from "@chakra-ui/react";

/** What holds of a step whose package is not installed, and what can be done. */
export function AbsentPage({ name, isOn }: { name: string; isOn: boolean }) {
  return (
    <Box flex="1" minW="0" pt="6px" lineHeight="1.45" data-page="not here">
      <Box fontWeight="700">The package “{name}” is not installed here.</Box>
      <Box maxW="62ch">
        The step is kept with all its settings, and passed over in pictures. Install the package and
        start Yearning again: then it is as it was.
      </Box>
      <Box color="mute" mt="6px">
        {isOn
          ? "No render is made meanwhile. To render without the step, switch it off."
          : "It is switched off: renders are made without it."}
      </Box>
    </Box>
  );
}

import { Box, Flex } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { allParts, type Scope } from "../../model/fittings";
import { setState, useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import { useFitting } from "../../store/fittings";
import { Button } from "../../ui/Button";
import { useClickOutside } from "../../ui/useClickOutside";
import { FittingSheet } from "./FittingSheet";

const WORDS: Record<Scope, [string, string]> = {
  every: ["Every clip", "A change goes to the look that all clips share"],
  this: ["This clip", "A change is this clip's own; the look of other clips stays as it is"],
};

/** What a change goes to, beside the clip; and what of the look is this clip's own. */
export function OverrideScopeSwitch() {
  const scope = useBench((s) => s.scope);
  const clip = useBench((s) => s.clip);
  const several = (useClips().data?.length ?? 0) > 1;
  const own = allParts(useFitting()).length;
  const [open, setOpen] = useState(false);
  const around = useRef<HTMLDivElement>(null);
  useClickOutside(around, open, () => setOpen(false));
  if (!clip || !several) return null;
  return (
    <Flex
      ref={around}
      position="relative"
      align="center"
      flex="none"
      onKeyDown={(event) => event.key === "Escape" && setOpen(false)}
    >
      <Flex role="radiogroup" aria-label="A change goes to">
        {(["every", "this"] as const).map((each) => (
          <Button
            key={each}
            small
            type="button"
            role="radio"
            aria-checked={each === scope}
            tone={each === scope ? "here" : "paper"}
            px={{ base: "5px", xl: "8px" }}
            borderRadius="0"
            _first={{ borderRadius: "6px 0 0 6px" }}
            _last={{ borderRadius: "0 6px 6px 0" }}
            title={WORDS[each][1]}
            onClick={() => setState({ scope: each })}
          >
            {WORDS[each][0]}
          </Button>
        ))}
      </Flex>
      {own > 0 && (
        <Button
          tone="bare"
          small
          type="button"
          ml="4px"
          color="ember"
          aria-haspopup="dialog"
          aria-expanded={open}
          title={`What of the look is ${clip.name}'s own`}
          onClick={() => setOpen(!open)}
        >
          {own} own ▾
        </Button>
      )}
      {open && own > 0 && (
        <Box position="absolute" top="36px" left="0" zIndex="20">
          <FittingSheet clip={clip} />
        </Box>
      )}
    </Flex>
  );
}

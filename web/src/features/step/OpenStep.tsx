import { Box, Flex } from "@chakra-ui/react";
import { ArrowLeft, ArrowRight, Bookmark, CopyPlus, HelpCircle, Trash2, X } from "lucide-react";
import { type ReactNode, useEffect, useRef } from "react";
import type { Step } from "../../api/client";
import { unlikeMade } from "../../model/asMade";
import { isBundle, rowOf } from "../../model/lookTree";
import type { OrderHint } from "../../model/orderHints";
import { capitalize, stepName } from "../../model/stepNames";
import { setState, useBench } from "../../store/bench";
import { duplicateStep } from "../../store/copying";
import { changeStep, moveStep, removeSteps } from "../../store/edits";
import { keepStep } from "../../store/keptSteps";
import { absentPackage, treatmentOf } from "../../store/look";
import { QUESTIONS, type Question } from "../../store/slices/selection";
import { useAtFrame } from "../../store/values";
import { Button } from "../../ui/Button";
import { Switch } from "../../ui/Choice";
import { Thumbnail } from "../../ui/Thumbnail";
import { AbsentPage } from "./AbsentPage";
import { MixedPage } from "./MixedPage";
import { SetFromClip } from "./SetFromClip";
import { WhatPage } from "./WhatPage";
import { WhenPage } from "./WhenPage";
import { WherePage } from "./WherePage";

const ASKS: Record<Question, string> = {
  what: "What it does",
  where: "Where it shows (W)",
  mixed: "How it is mixed back",
  when: "When it shows: keys and bursts",
};

interface OpenStepProps {
  step: Step;
  /** The picture it stands on: of the footage, or after a step. */
  before: string;
  hint: OrderHint | undefined;
}

/** The open step, in its place on the path, a page at a time: what, where, mixed, when. */
export function OpenStep({ step: written, before, hint }: OpenStepProps) {
  const step = useAtFrame(written);
  const treatment = treatmentOf(step);
  const absent = absentPackage(step);
  const thumbnails = useBench((s) => s.thumbnails);
  const question = useBench((s) => s.question);
  const name = stepName(step);
  const panel = useRef<HTMLDivElement>(null);
  const at = useBench((s) =>
    rowOf(s.look?.steps ?? [], step.id).findIndex((r) => r.id === step.id),
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: also when it has moved in its row
  useEffect(() => {
    panel.current?.scrollIntoView({ inline: "nearest", block: "nearest" });
  }, [step.id, at]);
  return (
    <Flex
      ref={panel}
      as="section"
      aria-label={`${name}, open`}
      direction="column"
      flex="1 0 620px"
      maxW="1500px"
      height="100%"
      bg="paper"
      borderWidth="1px"
      borderColor="ember"
      borderRadius="8px"
      px="12px"
      pt="5px"
      pb="6px"
      data-open-step
    >
      <Header step={written} at={at} hint={hint} />
      <Flex gap="14px" flex="1" minH="0">
        {absent ? (
          <AbsentPage name={absent} isOn={step.on} />
        ) : (
          <Box flex="1" minW="0" overflowY="auto" overflowX="auto" pt="2px" data-page={question}>
            {question === "what" && <WhatPage step={step} />}
            {question === "where" && <WherePage step={step} />}
            {question === "mixed" && <MixedPage step={step} made={treatment?.amount ?? 1} />}
            {question === "when" && <WhenPage step={step} />}
          </Box>
        )}
        <Flex
          direction="column"
          gap="2px"
          flex="none"
          fontSize="11px"
          color="mute"
          lineHeight="1.2"
        >
          <Thumbnail width={78} source={thumbnails[before]} alt={`Before ${name}`} />
          before
          <Thumbnail
            width={78}
            source={thumbnails[step.id]}
            alt={`After ${name}`}
            dimmed={!step.on || absent !== null}
          />
          after
        </Flex>
      </Flex>
    </Flex>
  );
}

/** What the step is, its pages, and what is done with it as a whole. */
function Header({ step, at, hint }: { step: Step; at: number; hint: OrderHint | undefined }) {
  const treatment = treatmentOf(step);
  const absent = absentPackage(step);
  const last = useBench((s) => rowOf(s.look?.steps ?? [], step.id).length - 1);
  return (
    <Flex align="center" gap="8px" mb="4px" flex="none">
      <Box as="span" fontFamily="felt" fontStyle="italic" color="mute" whiteSpace="nowrap">
        {absent ? "not here" : (treatment?.stage ?? "several")}
      </Box>
      <Box
        as="h2"
        fontFamily="felt"
        fontStyle="italic"
        fontWeight="600"
        fontSize="17px"
        lineHeight="1.1"
        whiteSpace="nowrap"
      >
        {stepName(step)}
      </Box>
      <Box color="mute" flex="1" minW="0" fontSize="12px" truncate title={treatment?.summary}>
        {absent ? `of package ${absent}` : (treatment?.summary ?? "steps mixed back as one")}
      </Box>
      {hint && (
        <Button
          small
          type="button"
          height="24px"
          color="ember"
          borderColor="ember"
          title={`Here it ${hint.says}. A click moves it before that.`}
          onClick={() => moveStep(step.id, hint.to)}
        >
          {hint.says}: move it before
        </Button>
      )}
      {treatment?.fits_clip && <SetFromClip step={step} />}
      {!absent && <Pages step={step} />}
      <Flex align="center" gap="0" flex="none">
        {!absent && <Copies step={step} />}
        <IconKey label="Move earlier" disabled={at <= 0} onPress={() => moveStep(step.id, at - 1)}>
          <ArrowLeft size={14} />
        </IconKey>
        <IconKey label="Move later" disabled={at >= last} onPress={() => moveStep(step.id, at + 1)}>
          <ArrowRight size={14} />
        </IconKey>
        <IconKey label="Remove step" onPress={() => removeSteps(new Set([step.id]))}>
          <Trash2 size={14} />
        </IconKey>
        <Switch
          bare
          label="Step"
          on={step.on}
          onSwitch={(on) => changeStep(step.id, (s) => ({ ...s, on }))}
        />
        <IconKey label="Close step" hint="Close (O, Esc)" onPress={() => setState({ open: null })}>
          <X size={14} />
        </IconKey>
      </Flex>
    </Flex>
  );
}

/** How the step works, and what makes another of it. */
function Copies({ step }: { step: Step }) {
  return (
    <>
      <IconKey
        label="How it works"
        hint="How it works, what its settings do, and a note on it"
        onPress={() => setState({ panel: "manual" })}
      >
        <HelpCircle size={14} />
      </IconKey>
      <IconKey
        label="Make the step twice"
        hint="Make the step twice (D)"
        onPress={() => duplicateStep(step.id)}
      >
        <CopyPlus size={14} />
      </IconKey>
      <IconKey
        label="Keep the step"
        hint="Keep the step under a name, to be added again"
        onPress={() => keepStep(step)}
      >
        <Bookmark size={14} />
      </IconKey>
    </>
  );
}

function Pages({ step }: { step: Step }) {
  const question = useBench((s) => s.question);
  const unlike = unlikeMade(step, treatmentOf(step));
  const own = { ...unlike, what: unlike.what && !isBundle(step) };
  return (
    <Flex
      role="tablist"
      aria-label="Pages of the step"
      flex="none"
      gap="0"
      onKeyDown={(event) => {
        const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
        const to = by && QUESTIONS.at((QUESTIONS.indexOf(question) + by) % QUESTIONS.length);
        if (!to) return;
        event.preventDefault();
        event.stopPropagation(); // or the arrow would move the play head too
        setState({ question: to });
        event.currentTarget.querySelector<HTMLElement>(`[data-page=${to}]`)?.focus();
      }}
    >
      {QUESTIONS.map((each) => (
        <Button
          key={each}
          small
          role="tab"
          type="button"
          data-page={each}
          tabIndex={each === question ? 0 : -1}
          height="24px"
          px="9px"
          borderRadius="0"
          _first={{ borderRadius: "6px 0 0 6px" }}
          _last={{ borderRadius: "0 6px 6px 0" }}
          tone={each === question ? "here" : "paper"}
          aria-selected={each === question}
          title={ASKS[each] + (own[each] ? "; something here is not as made" : "")}
          onClick={() => setState({ question: each })}
        >
          {capitalize(each)}
          {own[each] && (
            <Box
              as="span"
              width="5px"
              height="5px"
              borderRadius="50%"
              bg="currentColor"
              data-unlike
            />
          )}
        </Button>
      ))}
    </Flex>
  );
}

interface IconKeyProps {
  label: string;
  hint?: string;
  disabled?: boolean;
  onPress: () => void;
  children: ReactNode;
}

function IconKey({ label, hint, disabled, onPress, children }: IconKeyProps) {
  return (
    <Button
      tone="bare"
      small
      type="button"
      px="5px"
      disabled={disabled}
      aria-label={label}
      title={hint ?? label}
      onClick={onPress}
    >
      {children}
    </Button>
  );
}

import { chakra, Flex } from "@chakra-ui/react";
import { useRef } from "react";
import { refusal, type Step, sendGrade } from "../../api/client";
import { settingsOfGrade } from "../../model/grades";
import { notice } from "../../store/notices";
import { Button } from "../../ui/Button";
import { changeSettings } from "./SettingControl";

const Input = chakra("input");

async function save(step: Step, ending: "cc" | "cdl") {
  const { slope, offset, power, saturation } = step.settings;
  const response = await fetch(`/api/v1/grades/${ending}`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ id: step.id, slope, offset, power, saturation }),
  });
  if (!response.ok) throw refusal(response.status, await response.json().catch(() => undefined));
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await response.blob());
  link.download = `${step.id}.${ending}`;
  link.click();
  URL.revokeObjectURL(link.href);
}

/** Grades in and out as ASC CDL files. */
export function CdlFile({ step }: { step: Step }) {
  const picker = useRef<HTMLInputElement>(null);
  const reportRefusal = (error: unknown) => notice("look", error);
  return (
    <Flex gap="6px">
      <Button small type="button" onClick={() => picker.current?.click()}>
        From a file…
      </Button>
      <Button small type="button" onClick={() => void save(step, "cc").catch(reportRefusal)}>
        As .cc
      </Button>
      <Button small type="button" onClick={() => void save(step, "cdl").catch(reportRefusal)}>
        As .cdl
      </Button>
      <Input
        ref={picker}
        type="file"
        accept=".cc,.ccc,.cdl"
        aria-label="Grade to bring in"
        hidden
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file)
            sendGrade(file)
              .then((grade) => changeSettings(step, settingsOfGrade(grade), true))
              .catch(reportRefusal);
        }}
      />
    </Flex>
  );
}

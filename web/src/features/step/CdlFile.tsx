import { chakra, Flex } from "@chakra-ui/react";
import { useRef } from "react";
import { type Grade, refusal, type Step } from "../../api/client";
import { Key } from "../../ui/Button";
import { notice } from "../../store/bench";
import { changeSettings } from "./SettingControl";

const Input = chakra("input");

export async function gradeOf(file: File): Promise<Grade> {
  const response = await fetch(`/api/grades?name=${encodeURIComponent(file.name)}`, {
    method: "POST",
    body: file,
  });
  const body = await response.json().catch(() => undefined);
  if (!response.ok) throw refusal(response.status, body);
  return body as Grade;
}

export const settingsOf = ({ slope, offset, power, saturation }: Grade): Step["settings"] => ({
  mode: "cdl",
  slope: slope as number[],
  offset: offset as number[],
  power: power as number[],
  saturation: saturation as number,
});

async function save(step: Step, ending: "cc" | "cdl") {
  const { slope, offset, power, saturation } = step.settings;
  const response = await fetch(`/api/grades/${ending}`, {
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
  const told = (error: unknown) => notice("look", error);
  return (
    <Flex gap="6px">
      <Key small type="button" onClick={() => picker.current?.click()}>
        From a file…
      </Key>
      <Key small type="button" onClick={() => void save(step, "cc").catch(told)}>
        As .cc
      </Key>
      <Key small type="button" onClick={() => void save(step, "cdl").catch(told)}>
        As .cdl
      </Key>
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
            gradeOf(file)
              .then((grade) => changeSettings(step, settingsOf(grade), true))
              .catch(told);
        }}
      />
    </Flex>
  );
}

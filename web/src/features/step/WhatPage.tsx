import type { Step } from "../../api/client";
import { isBundle } from "../../model/lookTree";
import { applies } from "../../model/stepSummary";
import { treatmentOf } from "../../store/look";
import { BundlePanel } from "./BundlePanel";
import { Columns } from "./Columns";
import { GaugeTools } from "./GaugeTools";
import { LightTools } from "./LightTools";
import { PANELS } from "./panels";
import { SettingControl } from "./SettingControl";

/** What a step does: its settings. */
export function WhatPage({ step }: { step: Step }) {
  const settings = treatmentOf(step)?.settings.filter((s) => applies(s, step)) ?? [];
  const Panel = PANELS[step.treatment];
  if (isBundle(step)) return <BundlePanel step={step} />;
  if (Panel) return <Panel step={step} settings={settings} />;
  return (
    <Columns>
      {settings.map((setting) => (
        <SettingControl key={setting.name} step={step} setting={setting} />
      ))}
      {step.treatment === "grain" && <GaugeTools step={step} />}
      {treatmentOf(step)?.from_highlights && <LightTools step={step} />}
    </Columns>
  );
}

import type { RefObject } from "react";
import { bringTimeline } from "../../store/reel";

/** The file dialog by which a timeline is read; whoever has its ref opens it. */
export function TimelineInput({
  ref,
  label,
}: {
  ref: RefObject<HTMLInputElement | null>;
  label: string;
}) {
  return (
    <input
      ref={ref}
      type="file"
      hidden
      accept=".otio,.edl"
      aria-label={label}
      onChange={(event) => {
        const [file] = event.target.files ?? [];
        if (file) void bringTimeline(file);
        event.target.value = "";
      }}
    />
  );
}

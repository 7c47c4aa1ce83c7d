import { Box, Flex } from "@chakra-ui/react";
import type { Setting } from "../../api/client";
import type { PanelProps } from "./panels";
import { SettingControl } from "./SettingControl";
import { CHANNELS, Tint } from "./Tints";

const capital = (word: string) => word.charAt(0).toUpperCase() + word.slice(1);

/** A setting of a channel, called by what it is under the channel's name. */
const channelSetting = (setting: Setting, channel: string): Setting => ({
  ...setting,
  label: capital(setting.label.slice(channel.length + 1)),
});

/** A column for each channel: what it is drawn in, and how far it is from its place. */
export function SplitPanel({ step, settings }: PanelProps) {
  const tints = settings.find((s) => s.unit === "tints");
  return (
    <Flex gap="22px" wrap="wrap" pl="14px">
      {CHANNELS.map((channel, i) => (
        <Box key={channel} flex="1 0 282px" maxW="380px" role="group" aria-label={capital(channel)}>
          {tints && <Tint step={step} setting={tints} channel={i} />}
          {settings
            .filter((s) => s.name.startsWith(`${channel}_`))
            .map((setting) => (
              <SettingControl
                key={setting.name}
                step={step}
                setting={channelSetting(setting, channel)}
              />
            ))}
        </Box>
      ))}
    </Flex>
  );
}

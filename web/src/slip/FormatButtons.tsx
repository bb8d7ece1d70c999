/** The bodies of the part, to be saved in each of the formats. */
import { Button } from "@mantine/core";
import { exportUrl } from "../api/client";
import { FORMATS } from "../state/formats";

export function FormatButtons({ part }: { part: string }) {
  return FORMATS.map(({ form, title }) => (
    <Button key={form} component="a" href={exportUrl(part, form)} variant="default" size="compact-xs">
      {title}
    </Button>
  ));
}

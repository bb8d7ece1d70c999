import { spotlight } from "@mantine/spotlight";

export const openLocker = () => spotlight.open();

/** The locker is a dialog of the library, which opens from anywhere. */
import { spotlight } from "@mantine/spotlight";

export const openLocker = () => spotlight.open();

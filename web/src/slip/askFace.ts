/** Waits for a face to be clicked in the stage; asked a second time, waits no more. */
import { useView } from "../state/view";

export function askFace(before: string, label: string, take: (from: string, face: string) => void): void {
  const { pick, set } = useView.getState();
  set({
    pick:
      pick?.label === label
        ? null
        : {
            want: "face",
            before,
            label,
            take: (from, face) => {
              useView.getState().set({ pick: null });
              take(from, face);
            },
          },
  });
}

/** Opens the menu of what is under the pointer. */
import { useView } from "../state/view";

export function openMenu(e: MouseEvent): void {
  e.preventDefault();
  useView.getState().set({ menuAt: [e.clientX, e.clientY] });
}

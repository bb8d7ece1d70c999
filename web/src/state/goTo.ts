/** Go where a message points: select its step, move the station's cursor and the camera there. */
import type { Message, Vec3 } from "../api/types";
import { frameAt } from "../geometry/space";
import { usePart } from "./part";
import { useView } from "./view";

export function goTo(stepId: string | null, message: Message): void {
  const view = useView.getState();
  const { result } = usePart.getState();
  const place = message.place as { station?: number; point?: Vec3; source?: string; step?: string | null };
  const step = place.source ?? place.step ?? stepId;
  if (step !== null && view.selected !== step) view.select(step);
  const preview = view.preview?.step === step ? view.preview.report : undefined;
  const data = (preview ?? result?.steps[step ?? ""])?.data;
  if (place.station !== undefined) {
    view.setStation(place.station);
    if (data?.lanes) view.ask({ kind: "point", point: frameAt(data.lanes, place.station).point });
  } else if (place.point) {
    view.ask({ kind: "point", point: place.point });
  }
}

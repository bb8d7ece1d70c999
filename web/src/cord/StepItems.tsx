/** What can be done with a step of the cord, as items of a menu. */
import { Menu } from "@mantine/core";
import type { Part, Step } from "../api/types";
import { isDrawn, sourceOf } from "../state/drawings";
import { givesOf } from "../state/fields";
import { usePart, withStep } from "../state/part";
import { copied, grouped, groupOf, leave } from "../state/groups";
import { moveStep, removeStep, roomOnCord } from "../state/steps";
import { useView } from "../state/view";
import { ColourPick } from "./ColourPick";

interface Props {
  part: Part;
  step: Step;
  onRename?: () => void;
}

export function StepItems({ part, step, onRename }: Props) {
  const { change } = usePart.getState();
  const unseen = useView((s) => s.unseen);
  const hidden = unseen.includes(step.id);
  const faded = useView((s) => s.faded.includes(step.id));
  const marked = useView((s) => s.marked);
  const at = part.steps.findIndex((s) => s.id === step.id);
  const room = roomOnCord(part, step.id);
  const group = groupOf(part, step.id);
  const together = marked.includes(step.id) ? marked : [step.id];
  return (
    <>
      {isDrawn(step) && <Menu.Item onClick={() => useView.getState().sketch(sourceOf(step).id)}>Open sketch</Menu.Item>}
      {onRename && <Menu.Item onClick={onRename}>Rename</Menu.Item>}
      <Menu.Item
        onClick={() =>
          void change(step.off ? "Switch on" : "Switch off", (p) =>
            withStep(p, step.id, (s) => ({ ...s, off: !s.off })),
          )
        }
      >
        {step.off ? "Switch on" : "Switch off"}
      </Menu.Item>
      <Menu.Item onClick={() => useView.getState().veil(step.id)}>
        {hidden ? "Show in the stage" : "Hide in the stage"}
      </Menu.Item>
      <Menu.Item onClick={() => useView.getState().fade([step.id])}>
        {faded ? "Show plainly" : "Fade in the stage"}
      </Menu.Item>
      <Menu.Item
        onClick={() => useView.getState().set({ unseen: part.steps.map((s) => s.id).filter((id) => id !== step.id) })}
      >
        Show only this
      </Menu.Item>
      {unseen.length > 0 && <Menu.Item onClick={() => useView.getState().set({ unseen: [] })}>Show all</Menu.Item>}
      <Menu.Item
        disabled={at <= room.low}
        title={room.above === null ? undefined : `It uses “${room.above.name}”`}
        onClick={() => void change("Move up", (p) => moveStep(p, step.id, at - 1))}
      >
        Move up
      </Menu.Item>
      <Menu.Item
        disabled={at >= room.high}
        title={room.below === null ? undefined : `“${room.below.name}” uses it`}
        onClick={() => void change("Move down", (p) => moveStep(p, step.id, at + 1))}
      >
        Move down
      </Menu.Item>
      <Menu.Item onClick={() => void change(`Copy ${step.name}`, (p) => copied(p, [step.id]))}>Copy</Menu.Item>
      {group === undefined ? (
        <Menu.Item onClick={() => void change("Group", (p) => grouped(p, together))}>
          {together.length > 1 ? `Group these ${together.length} steps` : "Group"}
        </Menu.Item>
      ) : (
        <Menu.Item onClick={() => void change("Take out of the group", (p) => leave(p, step.id))}>
          Take out of the group
        </Menu.Item>
      )}
      <Menu.Item
        onClick={() =>
          void change("Move the sinker", (p) => ({ ...p, sinker: p.steps.at(-1)?.id === step.id ? null : step.id }))
        }
      >
        Build up to here
      </Menu.Item>
      {["body", "copies"].includes(givesOf(step)) && <ColourPick step={step.id} />}
      <Menu.Divider />
      <Menu.Item
        color="madder"
        onClick={() => {
          useView.getState().select(null);
          void change(`Delete ${step.name}`, (p) => removeStep(p, step.id));
        }}
      >
        Delete
      </Menu.Item>
    </>
  );
}

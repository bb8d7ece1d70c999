"""What a sketch answers to."""

from leadline.kinds.sketch.editing import drag_step, edit_step, projectable_edges, sketch_svg, solve_step

QUESTIONS = {"solve": solve_step, "edit": edit_step, "drag": drag_step, "edges": projectable_edges, "svg": sketch_svg}

"""What a sketch answers to."""

from leadline.kinds.sketch.editing import begin_drag, built_images, edit_step, projectable_edges, sketch_svg, solve_step

QUESTIONS = {
    "solve": solve_step,
    "edit": edit_step,
    "drag": begin_drag,
    "edges": projectable_edges,
    "svg": sketch_svg,
    "images": built_images,
}

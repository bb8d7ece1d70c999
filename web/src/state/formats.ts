/** The formats that bodies are saved in, as the server has them. */
import generated from "../api/formats.gen.json";

export interface Format {
  /** How its files end. */
  form: string;
  title: string;
  about: string;
  /** Whether it saves triangles. */
  triangles: boolean;
}

export const FORMATS: Format[] = Object.entries(generated).map(([form, { title, about, triangles }]) => ({
  form,
  title,
  about,
  triangles,
}));

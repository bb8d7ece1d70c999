import { isQuick } from "../../state/bodies";
import { room } from "../room";
import { commands } from "./commands";
import { marksOf } from "./marks";
import { SweepCards } from "./SweepCards";

export default room({
  kind: "sweep",
  words: "profile carried along a path",
  Cards: SweepCards,
  stock: {
    sort: "tubes",
    sizes: ["outside", "wall"],
    fits: ({ profile }) => isQuick(profile) && profile.quick === "round",
    take: ({ profile, wall }, names) => ({
      profile: isQuick(profile) ? { ...profile, width: names.outside ?? profile.width } : profile,
      wall: names.wall ?? wall,
    }),
  },
  commands,
  marks: marksOf,
  glyph: (
    <>
      <path d="M4 15c0-7 4-10 11-10" />
      <circle cx="4.5" cy="15" r="2.5" />
      <circle cx="15" cy="5" r="2.5" />
    </>
  ),
});

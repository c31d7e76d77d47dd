// The declared tags: they are offered before any card has them, and effects can refer to them.
import { Typing } from "../../ui/Typing";
import type { Write } from "../useParts";

export function TagsEditor({ tags, write }: { tags: string[]; write: Write }) {
  return (
    <>
      <p className="soft">
        Cards may have others too; these are offered everywhere, and effects can refer to them at once.
      </p>
      <div className="form tags-declared">
        <Typing
          label="Tags, with commas between"
          value={tags.join(", ")}
          commit={(text) =>
            void write("tags", [
              ...new Set(
                text
                  .split(",")
                  .map((tag) => tag.trim().replace(/\s+/g, " "))
                  .filter(Boolean),
              ),
            ])
          }
        />
      </div>
    </>
  );
}

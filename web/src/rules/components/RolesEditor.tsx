// The field of each role: name, cost, faction, stats.
import { useGame } from "../../state/store";
import { Picking, Ticking } from "../../ui/Typing";
import type { RolesDoc, Write } from "../useParts";

/** role, what it is called, the kind of field that can play it, what it is for. */
const ROLES = [
  ["name", "The name", "text", "Titles, decks and searches go by it"],
  ["cost", "The cost", "number", "What is paid for a card; budgets go by it"],
  ["rarity", "The rarity", "choice", "Allowances and limits of copies go by it"],
  ["faction", "The faction", "choice", "Colours of faces and limits of decks go by it"],
  ["effect", "The effect", "effect", "What the card does"],
  ["printed", "Own text", "text", "Replaces the generated text"],
  ["tags", "The tags", "tags", "Words that effects and searches use"],
  ["copies", "The copies", "number", "How many of a card there are"],
  ["damage_limit", "The damage limit", "number", "How much damage removes the card from play"],
] as const;

export function RolesEditor({ roles, write }: { roles: RolesDoc; write: Write }) {
  const fields = useGame((state) => state.game?.fields ?? []);
  const stats = (roles.stats as string[] | undefined) ?? [];
  const numbers = fields.filter(
    (field) => field.kind === "number" && field.id !== roles.cost && field.id !== roles.copies,
  );
  return (
    <>
      <p className="soft">Faces, prices, decks and play ask for these parts, never for a field by its name.</p>
      <div className="role-list">
        {ROLES.map(([role, name, kind, help]) => (
          <div key={role} className="role-line">
            <Picking
              label={name}
              value={(roles[role] as string | null) ?? ""}
              options={[
                ...(role === "name" ? [] : ([["", "no field"]] as const)),
                ...fields.filter((field) => field.kind === kind).map((field) => [field.id, field.name] as const),
              ]}
              commit={(ident) => void write("roles", { ...roles, [role]: ident || null })}
            />
            <span className="soft">{help}</span>
          </div>
        ))}
      </div>
      <h3>Stats</h3>
      <div className="form-row">
        {numbers.map((field) => (
          <Ticking
            key={field.id}
            label={field.name}
            value={stats.includes(field.id)}
            commit={(on) =>
              void write("roles", {
                ...roles,
                stats: on ? [...stats, field.id] : stats.filter((each) => each !== field.id),
              })
            }
          />
        ))}
        {!numbers.length && <span className="soft">No other number field yet.</span>}
      </div>
    </>
  );
}

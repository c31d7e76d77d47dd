// Card types, choice lists, sets and parts of the rules: a list on the left, the editor next to it.

import { useAddress } from "../state/address";
import {
  type ListDoc,
  putSet,
  type Rules,
  type TypeDoc,
  useListWriter,
  useRules,
  useTypeWriter,
} from "../state/cardRules";
import { useGame } from "../state/store";
import { NewNameInput } from "../ui/NewNameInput";
import { SideNav } from "../ui/SideNav";
import { KeywordsEditor } from "./components/KeywordsEditor";
import { ListEditor } from "./components/ListEditor";
import { GAME_PARTS, PartEditor } from "./components/PartEditor";
import { SetEditor } from "./components/SetEditor";
import { TypeEditor } from "./components/TypeEditor";
import { PlayEditor } from "./play/PlayEditor";
import { PLAY_PARTS, type PlayPart } from "./play/playDoc";
import { useFocusRequest } from "./useFocusRequest";

type Chosen = { kind: "type" | "list" | "set" | "keywords" | "game" | "play"; id: string };

export function RulesPage() {
  const rules = useRules();
  const game = useGame((state) => state.game);
  const [params, setParams] = useAddress();
  if (!game || !rules) return <p className="loading rules-room">Opening the rules…</p>;
  const [kind, id] = (params.get("at") ?? "").split(":");
  const first = rules.types.find((type) => !type.abstract) ?? rules.types[0];
  const chosen: Chosen = found(kind, id, rules, game.sets) ?? { kind: "type", id: first?.id ?? "" };
  const choose = (next: Chosen) => setParams({ at: `${next.kind}:${next.id}` });
  const type = rules.types.find((each) => chosen.kind === "type" && each.id === chosen.id);
  const list = rules.lists.find((each) => chosen.kind === "list" && each.id === chosen.id);
  const set = game.sets.find((each) => chosen.kind === "set" && each.id === chosen.id);
  const fallback = () => choose({ kind: "type", id: first?.id ?? "" });
  return (
    <div className="rules-room">
      <SideNav label="Parts of the rules" now={nameOf(chosen, rules, game.sets)}>
        <Part
          title="Card types"
          items={tree(rules.types)}
          on={chosen.kind === "type" ? chosen.id : null}
          choose={(next) => choose({ kind: "type", id: next })}
          add={<AddType rules={rules} done={(next) => choose({ kind: "type", id: next })} />}
        />
        <Part
          title="Choice lists"
          items={rules.lists.map((each) => ({
            id: each.id,
            name: each.name,
            depth: 0,
            count: (each.values ?? []).filter((value) => !value.retired).length,
          }))}
          on={chosen.kind === "list" ? chosen.id : null}
          choose={(next) => choose({ kind: "list", id: next })}
          add={<AddList rules={rules} done={(next) => choose({ kind: "list", id: next })} />}
        />
        <Part
          title="Sets"
          items={game.sets.map((each) => ({
            id: each.id,
            name: each.name,
            depth: 0,
            count: rules.in_set[each.id] ?? 0,
          }))}
          on={chosen.kind === "set" ? chosen.id : null}
          choose={(next) => choose({ kind: "set", id: next })}
          add={<AddSet done={(next) => choose({ kind: "set", id: next })} />}
        />
        <Part
          title="How it is played"
          items={PLAY_PARTS.map(([part, name]) => ({ id: part, name, depth: 0 }))}
          on={chosen.kind === "play" ? chosen.id : null}
          choose={(next) => choose({ kind: "play", id: next })}
          add={null}
        />
        <Part
          title="The game"
          items={GAME_PARTS.map(([part, name]) => ({ id: part, name, depth: 0 }))}
          on={chosen.kind === "game" ? chosen.id : null}
          choose={(next) => choose({ kind: "game", id: next })}
          add={null}
        />
        <Part
          title="Words"
          items={[{ id: "all", name: "Keywords", depth: 0, count: rules.keywords.length }]}
          on={chosen.kind === "keywords" ? "all" : null}
          choose={() => choose({ kind: "keywords", id: "all" })}
          add={null}
        />
      </SideNav>
      {chosen.kind === "game" && <PartEditor part={chosen.id} />}
      {chosen.kind === "play" && (
        <PlayEditor part={chosen.id as PlayPart} go={(next) => choose({ kind: "play", id: next })} />
      )}
      {chosen.kind === "keywords" && <KeywordsEditor rules={rules} />}
      {type && (
        <TypeEditor key={type.id} type={type} rules={rules} choose={(next) => choose({ kind: "type", id: next })} />
      )}
      {list && <ListEditor key={list.id} list={list} rules={rules} gone={fallback} />}
      {set && <SetEditor key={set.id} set={set} rules={rules} gone={fallback} />}
    </div>
  );
}

function found(kind: string | undefined, id: string | undefined, rules: Rules, sets: { id: string }[]): Chosen | null {
  const rooms: Record<string, { id: string }[]> = {
    type: rules.types,
    list: rules.lists,
    set: sets,
    keywords: [{ id: "all" }],
    game: GAME_PARTS.map(([ident]) => ({ id: ident })),
    play: PLAY_PARTS.map(([ident]) => ({ id: ident })),
  };
  return kind && id && rooms[kind]?.some((each) => each.id === id) ? { kind: kind as Chosen["kind"], id } : null;
}

/** The name of what is shown. */
function nameOf({ kind, id }: Chosen, rules: Rules, sets: { id: string; name: string }[]): string {
  const parts = kind === "game" ? GAME_PARTS : kind === "play" ? PLAY_PARTS : [];
  const named = kind === "type" ? rules.types : kind === "list" ? rules.lists : sets;
  return parts.find(([part]) => part === id)?.[1] ?? named.find((each) => each.id === id)?.name ?? "Keywords";
}

type Item = { id: string; name: string; depth: number; count?: number };

/** Types under what they extend. */
function tree(types: TypeDoc[], parent: string | null = null, depth = 0): Item[] {
  return types
    .filter((type) => (type.extends ?? null) === parent)
    .flatMap((type) => [
      { id: type.id, name: type.name, depth },
      ...(depth < 20 ? tree(types, type.id, depth + 1) : []),
    ]);
}

/** What was just chosen is in sight, however long the list. */
const intoSight = (element: HTMLElement | null) => element?.scrollIntoView({ block: "nearest" });

type PartProps = {
  title: string;
  items: Item[];
  on: string | null;
  choose: (id: string) => void;
  add: React.ReactNode;
};

function Part({ title, items, on, choose, add }: PartProps) {
  return (
    <section className="rules-part" aria-label={title}>
      <h2>{title}</h2>
      <ul>
        {items.map((item) => (
          <li key={item.id}>
            <button
              type="button"
              className="rules-item"
              aria-current={on === item.id}
              ref={on === item.id ? intoSight : undefined}
              style={{ paddingLeft: 10 + item.depth * 16 }}
              onClick={() => choose(item.id)}
            >
              <span>{item.name}</span>
              {item.count !== undefined && <span className="num soft">{item.count}</span>}
            </button>
          </li>
        ))}
      </ul>
      {add}
    </section>
  );
}

type AddLineProps = { label: string; word: string; add: (name: string) => Promise<boolean> };

function AddLine({ label, word, add }: AddLineProps) {
  const input = useFocusRequest(word);
  return <NewNameInput label={label} className="rules-add" input={input} add={add} />;
}

/** The id that a new thing was given: the one that was not there before. */
const fresh = (before: { id: string }[], after: { id: string }[] | undefined): string | undefined =>
  after?.find((each) => !before.some((old) => old.id === each.id))?.id;

function AddType({ rules, done }: { rules: Rules; done: (id: string) => void }) {
  const { write, trouble } = useTypeWriter();
  const base = rules.types.find((type) => type.abstract) ?? null;
  const add = async (name: string) => {
    const edit = await write({ id: "", name, extends: base?.id ?? null, fields: [] } as unknown as TypeDoc);
    if (!edit) return false;
    await settled();
    const id = fresh(rules.types, useGame.getState().game?.types);
    if (id) done(id);
    return true;
  };
  return (
    <>
      <AddLine label="New card type" word="type" add={add} />
      {trouble && <p className="needs rules-said">{trouble.what}</p>}
    </>
  );
}

function AddList({ rules, done }: { rules: Rules; done: (id: string) => void }) {
  const { write, trouble } = useListWriter();
  const add = async (name: string) => {
    const edit = await write({ id: "", name, values: [] } as unknown as ListDoc);
    if (!edit) return false;
    await settled();
    const id = fresh(rules.lists, useGame.getState().game?.lists);
    if (id) done(id);
    return true;
  };
  return (
    <>
      <AddLine label="New choice list" word="list" add={add} />
      {trouble && <p className="needs rules-said">{trouble.what}</p>}
    </>
  );
}

function AddSet({ done }: { done: (id: string) => void }) {
  const add = async (name: string) => {
    const edit = await putSet({ name, code: "", pattern: "" });
    const [id] = edit?.made ?? [];
    if (id) done(id);
    return Boolean(id);
  };
  return <AddLine label="New set" word="set" add={add} />;
}

/** Waits until the game was read anew after an edit of its rules. */
function settled(): Promise<void> {
  const before = useGame.getState().game;
  return new Promise((resolve) => {
    const timer = setTimeout(() => {
      stop();
      resolve();
    }, 3000);
    const stop = useGame.subscribe((state) => {
      if (state.game === before) return;
      clearTimeout(timer);
      stop();
      resolve();
    });
  });
}

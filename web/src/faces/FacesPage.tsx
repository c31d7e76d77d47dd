// Faces: one plan for each card type, always shown with existing cards.
import { Download, Grid3x3, Magnet, SlidersHorizontal, ZoomIn, ZoomOut } from "lucide-react";
import { memo, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useAddress } from "../state/address";
import { useGame } from "../state/store";
import { SideNav } from "../ui/SideNav";
import { Tabs, tabId } from "../ui/Tabs";
import { Picking } from "../ui/Typing";
import { AdjustDialog } from "./components/AdjustDialog";
import { ProofList, StressStrip } from "./components/HardestAndProof";
import { Inspector } from "./components/Inspector";
import { Layers, Palette, Plans } from "./components/Layers";
import { PlanCanvas } from "./components/PlanCanvas";
import { PlanSettings } from "./components/PlanSettings";
import {
  arrange,
  boxOf,
  type Draft,
  editPlan,
  type How,
  type Patch,
  type Place,
  type Plan,
  placeField,
  type Size,
  useBook,
  useShown,
} from "./usePlans";

const STRIPS = [
  ["stress", "Hardest cards"],
  ["proof", "Proof of all"],
] as const;

export function FacesPage() {
  const book = useBook();
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const seq = useGame((state) => state.seq);
  const [params, setParams] = useAddress();
  const [draft, setDraft] = useState<Draft | null>(null);
  const [zoom, setZoom] = useState<number | null>(null);
  const [guides, setGuides] = useState(true);
  const [snap, setSnap] = useState(true);
  const [adjusting, setAdjusting] = useState(false);
  const [copied, setCopied] = useState<Record<string, unknown>[]>([]);
  const put = useCallback(
    (patch: Record<string, string | null>) => {
      setParams(
        (now) => {
          const next = new URLSearchParams(now);
          for (const [key, value] of Object.entries(patch)) value ? next.set(key, value) : next.delete(key);
          return next;
        },
        { replace: true },
      );
    },
    [setParams],
  );
  const plan: Plan | null = useMemo(() => {
    if (!book) return null;
    const wanted = book.plans.find((each) => each.id === params.get("plan"));
    const worn = book.plans.filter((each) => each.head.side === "front" && each.cards > 0 && !each.head.variant);
    const of = params.get("type") ?? useGame.getState().cards[params.get("card") ?? ""]?.type;
    return (
      wanted ??
      worn.find((each) => each.head.type === of) ??
      worn.find((each) => each.head.type) ??
      book.plans[0] ??
      null
    );
  }, [book, params]);
  const chosen = params.get("place") ?? "";
  const selected = useMemo(
    () => chosen.split(",").filter((id) => plan?.places.some((place) => place.id === id)),
    [chosen, plan],
  );
  const select = useCallback((ids: string[]) => put({ place: ids.join(",") || null }), [put]);
  const card = params.get("card") ?? "";
  const shown = useShown(
    plan,
    useMemo(() => [card], [card]),
    draft,
    String(seq),
  );
  const face = shown[0] ?? null;
  /** What was written and is not in the book yet: it stays in sight until the book has it. */
  const written = useRef<Record<string, Patch>[]>([]);
  const write = useCallback(
    (patches: Record<string, Patch>, label?: string) => {
      if (!plan) return;
      setDraft((now) => ({ ...now, places: { ...now?.places, ...patches } }));
      void editPlan(plan.id, { places: patches }, label).then((done) => {
        if (done) written.current.push(patches);
        else setDraft((now) => without(now, [patches]));
      });
    },
    [plan],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: only another book holds what was written
  useEffect(() => {
    const held = written.current;
    written.current = [];
    const size = sized.current;
    sized.current = null;
    if (held.length) setDraft((now) => without(now, held));
    if (size) setDraft((now) => (now?.head?.size === size ? null : now));
  }, [book]);
  const sized = useRef<Size | null>(null);
  const resize = useCallback(
    (size: Size) => {
      if (!plan) return;
      setDraft({ head: { size } });
      void editPlan(plan.id, { head: { size } }).then((done) => {
        if (done) sized.current = size;
        else setDraft(null);
      });
    },
    [plan],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: another plan has no draft
  useEffect(() => setDraft(null), [plan?.id]);
  const choose = useCallback((id: string) => put({ plan: id, place: null }), [put]);
  const show = useCallback((id: string) => put({ card: id || null }), [put]);
  const turn = useCallback((each: Place) => write({ [each.id]: { off: !each.full.off } }), [write]);
  const planId = plan?.id ?? "";
  const place = useCallback(
    (what: string, at?: [number, number]) =>
      void placeField(planId, what, at).then((done) => done?.made[0] && select([done.made[0]])),
    [planId, select],
  );
  const places = useMemo(() => plan?.places.filter((each) => selected.includes(each.id)) ?? [], [plan, selected]);
  const look = useCallback(
    (patches: Record<string, Patch> | null) => setDraft(patches ? { places: patches } : null),
    [],
  );
  const align = useCallback((how: How) => void arrange(planId, selected, how), [planId, selected]);
  /** What is inherited is switched off here; what is this plan's own goes. */
  const takeOut = useCallback(() => {
    select([]);
    write(Object.fromEntries(places.map((each) => [each.id, each.inherited ? { off: true } : null])));
  }, [places, select, write]);
  const stack = useCallback(
    (way: "front" | "behind") => {
      const all = plan?.places.map((each) => Number(each.doc.z ?? 0)) ?? [];
      const edge = way === "front" ? Math.max(...all) + 1 : Math.min(...all) - places.length;
      write(Object.fromEntries(places.map((each, at) => [each.id, { z: edge + at }])));
    },
    [plan, places, write],
  );
  if (!game || !book || !plan) return <p className="loading">Laying the faces out…</p>;
  const move = (ids: string[], dx: number, dy: number) =>
    write(
      Object.fromEntries(
        plan.places
          .filter((each) => ids.includes(each.id))
          .map((each) => [each.id, { x: round(boxOf(each).x + dx), y: round(boxOf(each).y + dy) }]),
      ),
    );
  const twice = (docs: Record<string, unknown>[]) => {
    const used = new Set(plan.places.map((each) => each.id));
    const made: Record<string, Patch> = {};
    for (const doc of docs) {
      const stem = String(doc.id ?? "place")
        .replace(/-copy(-\d+)?$/, "")
        .slice(0, 30);
      let number = 1;
      let id = `${stem}-copy`;
      while (used.has(id)) {
        number += 1;
        id = `${stem}-copy-${number}`;
      }
      used.add(id);
      const { id: _, ...rest } = doc;
      made[id] = {
        ...rest,
        x: round(Number(doc.x ?? 0) + 2),
        y: round(Number(doc.y ?? 0) + 2),
        z: Number(doc.z ?? 0) + 0.5,
      };
    }
    write(made, `face ${plan.head.name}: ${docs.length === 1 ? "a placement" : `${docs.length} placements`} copied in`);
    select(Object.keys(made));
  };
  const press = (event: React.KeyboardEvent): boolean => {
    const ctrl = event.ctrlKey || event.metaKey;
    const key = event.key.toLowerCase();
    if (ctrl && key === "a") {
      select(plan.places.map((each) => each.id));
      return true;
    }
    if (event.key === "Escape") {
      select([]);
      return true;
    }
    if (!places.length && !(ctrl && key === "v")) return false;
    const docs = places.map((each) => ({ ...each.doc, id: each.id }));
    if (ctrl && key === "d") twice(docs);
    else if (ctrl && key === "c") setCopied(docs);
    else if (ctrl && key === "v" && copied.length) twice(copied);
    else if (event.key === "Delete" || event.key === "Backspace") takeOut();
    else if (event.key === "]") stack("front");
    else if (event.key === "[") stack("behind");
    else return false;
    return true;
  };
  const list = params.get("strip") === "proof" ? "proof" : "stress";
  return (
    <div className="faces-room">
      <SideNav label="Plans and placements" now={`Face plan: ${plan.head.name || "Plan"}`} className="faces-side">
        <Plans book={book} plan={plan} choose={choose} />
        <Layers plan={plan} selected={selected} select={select} turn={turn} />
        <Palette plan={plan} place={place} />
      </SideNav>
      <section className="faces-middle" aria-label={`Face plan ${plan.head.name}`}>
        <div className="faces-tools">
          <ShownWith plan={plan} card={face?.card ?? ""} show={show} />
          <span className="faces-tools-end">
            {face?.card && plan.head.side === "front" && (
              <button
                type="button"
                className="small-button"
                onClick={() => setAdjusting(true)}
                title="This card's adjustments"
              >
                <SlidersHorizontal size={13} aria-hidden="true" /> Adjust this card
              </button>
            )}
            {face?.card && (
              <a
                className="small-button"
                href={`/api/games/${game.id}/cards/${face.card}/face.png?side=${plan.head.side}&dpi=300`}
                download
                title="This face as a picture at 300 dots an inch"
              >
                <Download size={13} aria-hidden="true" /> PNG
              </a>
            )}
            {face?.card && (
              <a
                className="small-button"
                href={`/api/games/${game.id}/cards/${face.card}/face.pdf?side=${plan.head.side}`}
                download
                title="This face as a PDF at its true size"
              >
                <Download size={13} aria-hidden="true" /> PDF
              </a>
            )}
            <button
              type="button"
              className="icon-button"
              aria-pressed={snap}
              onClick={() => setSnap(!snap)}
              aria-label="Snap"
              title="Snap to half a millimetre and to other placements (Alt lets go)"
            >
              <Magnet size={15} aria-hidden="true" />
            </button>
            <button
              type="button"
              className="icon-button"
              aria-pressed={guides}
              onClick={() => setGuides(!guides)}
              aria-label="Bleed, cut and safe edge"
              title="Bleed, cut and safe edge"
            >
              <Grid3x3 size={15} aria-hidden="true" />
            </button>
            <button
              type="button"
              className="icon-button"
              aria-label="Smaller"
              onClick={() => setZoom(Math.max(1.2, (zoom ?? 5) / 1.25))}
            >
              <ZoomOut size={15} aria-hidden="true" />
            </button>
            <button type="button" className="small-button" aria-pressed={zoom === null} onClick={() => setZoom(null)}>
              Fit
            </button>
            <button
              type="button"
              className="icon-button"
              aria-label="Larger"
              onClick={() => setZoom(Math.min(24, (zoom ?? 5) * 1.25))}
            >
              <ZoomIn size={15} aria-hidden="true" />
            </button>
          </span>
        </div>
        <PlanCanvas
          plan={drafted(plan, draft)}
          shown={face}
          selected={selected}
          select={select}
          move={move}
          resizing={(id, box) => setDraft({ places: { [id]: box } })}
          resize={(id, box) => write({ [id]: box })}
          press={press}
          drop={place}
          zoom={zoom}
          guides={guides}
          snap={snap}
        />
        <div className="strip mat">
          <Tabs
            className="strip-tabs"
            label="Under the plan"
            parts={STRIPS}
            at={list}
            choose={(id) => put({ strip: id === "stress" ? null : id })}
            panel="faces-strip"
          />
          <div id="faces-strip" role="tabpanel" aria-labelledby={tabId("faces-strip", list)} className="strip-part">
            {list === "stress" ? (
              <StressStrip plan={plan} draft={draft} version={String(seq)} card={face?.card ?? ""} show={show} />
            ) : (
              <ProofList book={book} choose={(id, at) => put({ card: id, place: at || null })} />
            )}
          </div>
        </div>
      </section>
      <aside className="faces-inspector" data-pane aria-label={places.length ? "Placement" : "Plan"}>
        {places.length ? (
          <Inspector
            key={selected.join()}
            book={book}
            plan={plan}
            places={places}
            look={look}
            write={write}
            align={align}
            stack={stack}
            takeOut={takeOut}
          />
        ) : (
          <PlanSettings
            key={plan.id}
            book={book}
            plan={plan}
            look={(size) => setDraft(size ? { head: { size } } : null)}
            resize={resize}
            choose={choose}
          />
        )}
      </aside>
      {adjusting && face?.card && (
        <AdjustDialog card={face.card} title={cards[face.card]?.title ?? ""} close={() => setAdjusting(false)} />
      )}
    </div>
  );
}

/** A draft without what was written; what has been typed since stays. */
function without(draft: Draft | null, written: Record<string, Patch>[]): Draft | null {
  const left = Object.entries(draft?.places ?? {}).filter(
    ([id, patch]) => !written.some((patches) => patches[id] === patch),
  );
  return left.length ? { places: Object.fromEntries(left) } : null;
}

/** The plan with the boxes that are being typed or pulled. */
function drafted(plan: Plan, draft: Draft | null): Plan {
  const patches = draft?.places;
  const size = draft?.head?.size ? { ...plan.size, ...draft.head.size } : plan.size;
  if (!patches && size === plan.size) return plan;
  const places = plan.places.map((place) => {
    const patch = patches?.[place.id];
    return patch ? { ...place, doc: { ...place.doc, ...patch } } : place;
  });
  return { ...plan, size, places };
}

const MOST_OFFERED = 400;

type ShownWithProps = { plan: Plan; card: string; show: (card: string) => void };

/** The card that the plan is shown with, chosen among those that wear it. */
const ShownWith = memo(function ShownWith({ plan, card, show }: ShownWithProps) {
  const types = useGame((state) => state.game?.types);
  const cards = useGame((state) => state.cards);
  const order = useGame((state) => state.order);
  const [code, setCode] = useState("");
  const wearing = useMemo(
    () =>
      order.filter((id) => cards[id]?.type === plan.head.type || types?.every((each) => each.id !== plan.head.type)),
    [types, cards, order, plan.head.type],
  );
  const options = useMemo(() => {
    const first = wearing.slice(0, MOST_OFFERED);
    const offered = card && !first.includes(card) ? [card, ...first] : first;
    const found = offered.map((id) => [id, `${cards[id]?.code} ${cards[id]?.title}`] as const);
    return card ? found : [["", "an invented card"] as const, ...found];
  }, [cards, wearing, card]);
  return (
    <span className="faces-shown">
      <Picking label="Shown with" hidden value={card} options={options} commit={show} />
      {wearing.length > MOST_OFFERED && (
        <input
          className="input figure"
          aria-label="Shown with the card of this code"
          placeholder="or a code"
          value={code}
          onChange={(event) => setCode(event.target.value)}
          onKeyDown={(event) => {
            const wanted = code.trim().toLowerCase();
            const found = wearing.find((id) => cards[id]?.code.toLowerCase() === wanted);
            if (event.key === "Enter" && found) {
              show(found);
              setCode("");
            }
          }}
        />
      )}
    </span>
  );
});

const round = (value: number): number => Math.round(value * 1000) / 1000;

// Tracked tables: their source, last answer, and a preview of importing it.

import { Plus, RefreshCw, Trash2 } from "lucide-react";
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError, newKey, type Problem, type Schemas } from "../../state/client";
import { useAsked, useTouched } from "../../state/query";
import { useGame } from "../../state/store";
import { applyEdit } from "../../state/sync";
import { change } from "../../state/writing";
import { shortly } from "../../ui/when";
import * as requests from "../api";
import { actOf, NO_WISHES, type Plan, type Wishes } from "../importOptions";
import { ImportPlanView } from "./ImportPlanView";
import { ReadOptions } from "./ReadOptions";
import { Tick } from "./TableExportPart";

type Source = Schemas["FollowedOut"];
type Following = Schemas["FollowingOut"];
const EVERY = [
  [0, "only when I ask"],
  [5, "every 5 minutes"],
  [60, "every hour"],
  [1440, "every day"],
] as const;

export function TrackedTablesPart() {
  const game = useGame((state) => state.game);
  const touched = useTouched("source");
  const asking = () => requests.sources({ params: { path: { game_id: game?.id ?? "" } } });
  const { found, again } = useAsked<Following>(asking, [game?.id, touched]);
  const [editing, setEditing] = useState<Source | "new" | null>(null);
  const [looking, setLooking] = useState<Source | null>(null);
  const [busy, setBusy] = useState("");
  const [trouble, setTrouble] = useState<Problem | null>(null);
  const refresh = useRef(again);
  refresh.current = again;
  // The clock reads tables in the server: what it found is asked for now and then.
  useEffect(() => {
    const timer = setInterval(() => refresh.current(), 20_000);
    return () => clearInterval(timer);
  }, []);
  if (!game || !found) return <p className="soft">Looking…</p>;
  const path = (source: Source) => ({ path: { game_id: game.id, source_id: source.id } });
  const read = async (source: Source) => {
    setBusy(source.id);
    setTrouble(null);
    try {
      const after = await requests.readSource({ params: path(source) });
      again();
      const now = after.sources.find((each) => each.id === source.id);
      if (now?.waiting && !now.problem) setLooking(now);
    } catch (error) {
      if (error instanceof ApiError) setTrouble(error.problem);
    } finally {
      setBusy("");
    }
  };
  if (looking)
    return (
      <Differences
        source={looking}
        close={() => {
          setLooking(null);
          again();
        }}
      />
    );
  return (
    <>
      <h1>Followed tables</h1>
      <p className="soft files-about">
        A table file stored elsewhere, re-read on request or on a schedule. Differences are shown before you accept
        them; cells that were changed here too are asked about one by one.
      </p>
      <Settings allowed={found.allowed} done={again} />
      {trouble && (
        <p role="alert" className="trouble">
          <b className="needs">{trouble.detail}</b> — {trouble.mend}
        </p>
      )}
      <ul className="files-list">
        {found.sources.map((source) => (
          <li key={source.id} className="files-line">
            <b>{source.name}</b>
            <span className="files-address">{source.address}</span>
            <span className={source.problem ? "needs" : source.waiting ? "files-news" : "soft"}>
              {source.problem
                ? source.problem
                : source.waiting
                  ? `differs since ${shortly(source.read_at ?? "")}`
                  : source.read_at
                    ? `nothing new, ${shortly(source.read_at)}`
                    : "not read yet"}
              {source.minutes > 0 &&
                ` · ${EVERY.find(([minutes]) => minutes === source.minutes)?.[1] ?? `every ${source.minutes} minutes`}`}
            </span>
            <span className="files-acts">
              {source.waiting && (
                <button type="button" className="button button-main" onClick={() => setLooking(source)}>
                  Look at the differences
                </button>
              )}
              <button
                type="button"
                className="small-button"
                disabled={busy === source.id}
                onClick={() => void read(source)}
              >
                <RefreshCw size={13} aria-hidden="true" /> {busy === source.id ? "Reading…" : "Read now"}
              </button>
              <button type="button" className="small-button" onClick={() => setEditing(source)}>
                Change
              </button>
              <button
                type="button"
                className="icon-button"
                aria-label={`Stop following ${source.name}`}
                onClick={() =>
                  void change((game_id, key) =>
                    requests.unfollow({
                      params: { path: { game_id, source_id: source.id }, header: { "idempotency-key": key } },
                    }),
                  )
                }
              >
                <Trash2 size={13} aria-hidden="true" />
              </button>
            </span>
          </li>
        ))}
      </ul>
      {editing ? (
        <SourceForm key={editing === "new" ? "new" : editing.id} source={editing} close={() => setEditing(null)} />
      ) : (
        <button type="button" className="button" onClick={() => setEditing("new")}>
          <Plus size={14} aria-hidden="true" /> Follow a table
        </button>
      )}
    </>
  );
}

function Settings({ allowed, done }: { allowed: Following["allowed"]; done: () => void }) {
  const game = useGame((state) => state.game?.id ?? "");
  const [hosts, setHosts] = useState((allowed.hosts ?? []).join(", "));
  const [trouble, setTrouble] = useState<Problem | null>(null);
  const put = async (part: Partial<Following["allowed"]>) => {
    try {
      await requests.allow({
        params: { path: { game_id: game } },
        body: { ...allowed, ...part },
      });
      setTrouble(null);
      done();
    } catch (error) {
      if (error instanceof ApiError) setTrouble(error.problem);
    }
  };
  return (
    <fieldset className="files-allowed">
      <legend>What this game may reach</legend>
      <Tick label="Allow web addresses" on={allowed.on ?? false} turn={(on) => void put({ on })} />
      <Tick label="Allow files of this computer" on={allowed.files ?? false} turn={(files) => void put({ files })} />
      <label>
        Private hosts that may be asked{" "}
        <input
          className="input"
          placeholder="none; such as 127.0.0.1:8090"
          value={hosts}
          onChange={(event) => setHosts(event.target.value)}
          onBlur={() => {
            const list = hosts
              .split(",")
              .map((host) => host.trim())
              .filter(Boolean);
            if (list.join() !== (allowed.hosts ?? []).join()) void put({ hosts: list });
          }}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        />
      </label>
      {trouble && (
        <p role="alert" className="needs">
          {trouble.detail} — {trouble.mend}
        </p>
      )}
    </fieldset>
  );
}

function SourceForm({ source, close }: { source: Source | "new"; close: () => void }) {
  const game = useGame((state) => state.game);
  const old = source === "new" ? null : source;
  const [name, setName] = useState(old?.name ?? "");
  const [address, setAddress] = useState(old?.address ?? "");
  const [minutes, setMinutes] = useState<number>(old?.minutes ?? 0);
  const [match, setMatch] = useState(String(old?.order?.match ?? "code"));
  const [home, setHome] = useState(String(old?.order?.set_id ?? ""));
  const save = async () => {
    const body = { name, address, minutes, order: { ...(old?.order ?? {}), match, set_id: home } };
    const done = await change((game_id, key) =>
      old
        ? requests.putSource({
            params: { path: { game_id, source_id: old.id }, header: { "idempotency-key": key } },
            body,
          })
        : requests.follow({
            params: { path: { game_id }, header: { "idempotency-key": key } },
            body,
          }),
    );
    if (done) close();
  };
  return (
    <form
      className="layout-editor"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <div className="layout-options">
        <label className="files-long">
          Address or file
          <input
            className="input"
            // biome-ignore lint/a11y/noAutofocus: it was just asked for
            autoFocus
            placeholder="https://… of a sheet published as CSV, or /home/me/cards.xlsx"
            value={address}
            onChange={(event) => setAddress(event.target.value)}
          />
        </label>
        <label>
          Name
          <input
            className="input"
            placeholder="from the address"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <label>
          Cards are matched by
          <select className="select" value={match} onChange={(event) => setMatch(event.target.value)}>
            <option value="code">code</option>
            <option value="name">name</option>
          </select>
        </label>
        <label>
          It names the cards of
          <select className="select" value={home} onChange={(event) => setHome(event.target.value)}>
            <option value="">every set</option>
            {game?.sets.map((set) => (
              <option key={set.id} value={set.id}>
                {set.name}
              </option>
            ))}
          </select>
        </label>
        <label>
          Read
          <select className="select" value={minutes} onChange={(event) => setMinutes(Number(event.target.value))}>
            {EVERY.map(([value, said]) => (
              <option key={value} value={value}>
                {said}
              </option>
            ))}
          </select>
        </label>
      </div>
      <div className="files-foot">
        <button type="button" className="button" onClick={close}>
          Cancel
        </button>
        <button type="submit" className="button button-main" disabled={!address.trim()}>
          {old ? "Save" : "Follow it"}
        </button>
      </div>
    </form>
  );
}

function Differences({ source, close }: { source: Source; close: () => void }) {
  const game = useGame((state) => state.game?.id ?? "");
  const [wishes, setWishes] = useState<Wishes>(() => ({
    ...NO_WISHES,
    match: "code",
    ...(source.order as Partial<Wishes>),
  }));
  const [plan, setPlan] = useState<Plan | null>(null);
  const [trouble, setTrouble] = useState<Problem | null>(null);
  const [busy, setBusy] = useState(false);
  const path = { game_id: game, source_id: source.id };
  const look = useCallback(async () => {
    setBusy(true);
    try {
      const asked = { game_id: game, source_id: source.id };
      setPlan(
        await requests.lookAtSource({
          params: { path: asked },
          body: wishes as Schemas["WishesIn"],
        }),
      );
      setTrouble(null);
    } catch (error) {
      if (error instanceof ApiError) setTrouble(error.problem);
    } finally {
      setBusy(false);
    }
  }, [game, source.id, wishes]);
  useEffect(() => void look(), [look]);
  const take = async () => {
    setBusy(true);
    try {
      const taken = await requests.takeSource({
        params: { path, header: { "idempotency-key": newKey() } },
        body: { ...(wishes as Schemas["WishesIn"]), reading: plan?.reading ?? "" },
      });
      if (taken.edit) applyEdit(taken.edit);
      close();
    } catch (error) {
      await refused(error);
    }
  };
  // Read again meanwhile, it may say something else: what differs now is shown with what went wrong.
  const refused = async (error: unknown) => {
    await look();
    if (error instanceof ApiError) setTrouble(error.problem);
  };
  const keep = async () => {
    setBusy(true);
    try {
      const query = { reading: plan?.reading ?? "" };
      await requests.keepSource({ params: { path, query } });
      close();
    } catch (error) {
      await refused(error);
    }
  };
  return (
    <>
      <h1>{source.name}: what is different</h1>
      {trouble && (
        <p role="alert" className="trouble">
          <b className="needs">{trouble.detail}</b> — {trouble.mend}
        </p>
      )}
      {!plan && !trouble && <p className="soft">Comparing…</p>}
      {plan && (
        <div className="plan">
          <ReadOptions plan={plan} wishes={wishes} setWishes={setWishes} />
          <ImportPlanView plan={plan} wishes={wishes} setWishes={setWishes} />
        </div>
      )}
      <div className="files-foot files-foot-still">
        <b className="said">{plan?.said}</b>
        <button type="button" className="button" onClick={close}>
          Not now
        </button>
        <button
          type="button"
          className="button"
          disabled={busy || !plan}
          onClick={() => void keep()}
          title="Keep the cards as they are"
        >
          Reject all
        </button>
        <button
          type="button"
          className="button button-main"
          disabled={busy || !plan?.ready}
          onClick={() => void take()}
        >
          {plan ? actOf(plan) : "Write these changes"}
        </button>
      </div>
    </>
  );
}

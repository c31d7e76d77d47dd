// Import many pictures and match them to cards; a list of all, unused and missing ones.

import { FolderOpen, ImagePlus } from "lucide-react";
import { useRef, useState } from "react";
import { writeCells } from "../../state/cells";
import { ApiError, type Problem, type Schemas } from "../../state/client";
import { useAsked, useTouched } from "../../state/query";
import { useGame } from "../../state/store";
import { change } from "../../state/writing";
import { counted } from "../../ui/plural";
import * as requests from "../api";

type Brought = Schemas["BroughtOut"];
type Placed = Schemas["PlacedOut"];
type Pictures = Schemas["PicturesOut"];
type Show = "all" | "unused" | "missing";
const MOST_SHOWN = 300;

export function PicturesPart() {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const seq = useGame((state) => state.seq);
  const touched = useTouched("picture", "card");
  const asking = () => requests.pictures({ params: { path: { game_id: game?.id ?? "" } } });
  const { found, again } = useAsked<Pictures>(asking, [game?.id, touched, seq]);
  const [show, setShow] = useState<Show>("all");
  const [brought, setBrought] = useState<Brought[]>([]);
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  if (!game) return null;
  const fields = game.fields.filter((each) => each.kind === "picture");
  const unused = found?.pictures.filter((each) => !each.cards.length && !each.elsewhere) ?? [];
  const shown = show === "unused" ? unused : (found?.pictures ?? []);
  const takeOut = async (ids: string[]) => {
    const done = await change((game_id, key) =>
      requests.removePictures({
        params: { path: { game_id }, header: { "idempotency-key": key } },
        body: { ids },
      }),
    );
    if (done) setChosen(new Set());
  };
  return (
    <>
      <h1>Pictures</h1>
      {fields.length === 0 && (
        <p className="trouble">
          <b className="needs">No card type has a field for pictures.</b> Add one in Rules, of kind picture; what you
          bring until then is kept here.
        </p>
      )}
      <Bringing done={(all) => setBrought(all)} again={again} />
      {brought.length > 0 && fields.length > 0 && (
        <Matching
          brought={brought}
          close={() => {
            setBrought([]);
            again();
          }}
        />
      )}
      <div className="files-head">
        <fieldset className="look" aria-label="Which pictures">
          {(
            [
              ["all", `All ${found?.pictures.length ?? ""}`],
              ["unused", `Unused ${unused.length}`],
              ["missing", `Missing ${found?.wanting.length ?? ""}`],
            ] as const
          ).map(([value, name]) => (
            <button key={value} type="button" aria-pressed={show === value} onClick={() => setShow(value)}>
              {name}
            </button>
          ))}
        </fieldset>
        {show === "unused" && unused.length > 0 && (
          <button
            type="button"
            className="button"
            onClick={() => void takeOut(chosen.size ? [...chosen] : unused.flatMap((each) => each.id ?? []))}
          >
            Remove {chosen.size || `all ${unused.length}`}
          </button>
        )}
      </div>
      {show === "missing" ? (
        <ul className="plan-list">
          {found?.wanting.slice(0, MOST_SHOWN).map((each) => (
            <li key={`${each.card} ${each.field}`}>
              {cards[each.card]?.title ?? each.card}
              <span className="soft">
                {" "}
                {game.fields.find((field) => field.id === each.field)?.name}
                {each.file ? `, missing file: ${each.file}` : ""}
              </span>
            </li>
          ))}
          {found && found.wanting.length === 0 && <li className="soft">Every card has its picture.</li>}
        </ul>
      ) : (
        <div className="picture-wall">
          {shown.slice(0, MOST_SHOWN).map((each) => (
            <div key={each.id ?? each.sha} className="picture-card">
              <img src={`/api/art/${each.sha}`} alt="" loading="lazy" />
              <b>{each.name}</b>
              <small className="soft">
                {each.width} × {each.height}, {Math.max(1, Math.round(each.bytes / 1024)).toLocaleString()} KB
              </small>
              <small className={each.cards.length || each.elsewhere ? "soft" : "needs"}>
                {each.cards.length
                  ? each.cards
                      .slice(0, 2)
                      .map((id) => cards[id]?.title ?? "")
                      .join(", ") + (each.cards.length > 2 ? ` and ${each.cards.length - 2} more` : "")
                  : each.elsewhere
                    ? "on a choice or a symbol"
                    : "unused"}
              </small>
              {show === "unused" && each.id && (
                <input
                  type="checkbox"
                  aria-label={`Choose ${each.name}`}
                  checked={chosen.has(each.id)}
                  onChange={() => {
                    const next = new Set(chosen);
                    if (each.id && !next.delete(each.id)) next.add(each.id);
                    setChosen(next);
                  }}
                />
              )}
            </div>
          ))}
          {found && shown.length === 0 && (
            <p className="empty">
              {show === "unused" ? "Every picture is on a card." : "No pictures yet: bring some above."}
            </p>
          )}
        </div>
      )}
    </>
  );
}

/** Files are sent one after another: progress shows, and what was sent is kept when one stops. */
function Bringing({ done, again }: { done: (brought: Brought[]) => void; again: () => void }) {
  const game = useGame((state) => state.game?.id ?? "");
  const [progress, setProgress] = useState<{ at: number; of: number } | null>(null);
  const [trouble, setTrouble] = useState<Problem | null>(null);
  const stopped = useRef(false);
  const send = (file: File, zip: boolean) => {
    const body = new FormData();
    body.append("file", file, file.webkitRelativePath || file.name);
    const options = {
      params: { path: { game_id: game } },
      body: body as never,
      bodySerializer: (form: unknown) => form as FormData,
    };
    return zip ? requests.importZip(options) : requests.bringPicture(options).then((one) => [one]);
  };
  const bring = async (files: File[]) => {
    if (!files.length) return;
    stopped.current = false;
    setTrouble(null);
    const all: Brought[] = [];
    for (const [index, file] of files.entries()) {
      if (stopped.current) break;
      setProgress({ at: index, of: files.length });
      try {
        all.push(...(await send(file, /\.zip$/i.test(file.name))));
      } catch (error) {
        if (!(error instanceof ApiError)) throw error;
        setTrouble(error.problem);
        if (error.problem.status === 0) break;
      }
    }
    setProgress(null);
    again();
    done(all);
  };
  return (
    <section
      className="drop drop-files"
      aria-label="Bring pictures"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        void bring([...event.dataTransfer.files]);
      }}
    >
      {progress ? (
        <>
          <progress value={progress.at} max={progress.of} aria-label="Pictures sent" />
          <span aria-live="polite">
            {progress.at} of {progress.of}
          </span>
          <button
            type="button"
            className="small-button"
            onClick={() => {
              stopped.current = true;
            }}
          >
            Stop; keep what was sent
          </button>
        </>
      ) : (
        <>
          <label className="button">
            <ImagePlus size={14} aria-hidden="true" /> Choose pictures or a ZIP
            <input
              type="file"
              multiple
              className="unseen"
              accept="image/*,.zip"
              onChange={(event) => {
                void bring([...(event.target.files ?? [])]);
                event.target.value = "";
              }}
            />
          </label>
          <label className="button">
            <FolderOpen size={14} aria-hidden="true" /> A whole folder
            <input
              type="file"
              multiple
              className="unseen"
              ref={(input) => input?.setAttribute("webkitdirectory", "")}
              onChange={(event) => {
                void bring([...(event.target.files ?? [])].filter((file) => !file.name.startsWith(".")));
                event.target.value = "";
              }}
            />
          </label>
          <span className="soft">or drop them here; any format, even with a wrong file extension</span>
        </>
      )}
      {trouble && (
        <p role="alert" className="needs">
          {trouble.detail} — {trouble.mend}
        </p>
      )}
    </section>
  );
}

function Matching({ brought, close }: { brought: Brought[]; close: () => void }) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const [field, setField] = useState("");
  const [column, setColumn] = useState("");
  const [turned, setTurned] = useState<Record<string, boolean>>({});
  const files = brought.filter((each) => each.sha).map((each) => each.name);
  const shas = Object.fromEntries(brought.map((each) => [each.name, each.sha ?? ""]));
  const asking = () =>
    requests.matchPictures({
      params: { path: { game_id: game?.id ?? "" } },
      body: { files, field: field || null, column: column || null },
    });
  const { found } = useAsked<Placed[]>(asking, [game?.id, brought, field, column]);
  if (!game) return null;
  const placeOf = (each: Placed) => `${each.file} ${each.card} ${each.field}`;
  const takes = (each: Placed) => (each.card ? (turned[placeOf(each)] ?? (!each.near && !each.taken)) : false);
  const taken = found?.filter(takes) ?? [];
  const refused = brought.filter((each) => each.problem);
  const put = async () => {
    const edits = taken.map((each) => ({
      card: each.card ?? "",
      field: each.field ?? "",
      typed: shas[each.file] ?? "",
    }));
    const done = await writeCells(edits, [], `${counted(edits.length, "picture")} on cards`);
    if (done) close();
  };
  const texts = game.fields.filter((each) => each.kind === "text" && !each.long);
  return (
    <section className="layout-editor" aria-label="Pictures matched to cards">
      <div className="layout-options">
        <label>
          Fill
          <select className="select" value={field} onChange={(event) => setField(event.target.value)}>
            <option value="">the front picture</option>
            {game.fields
              .filter((each) => each.kind === "picture")
              .map((each) => (
                <option key={each.id} value={each.id}>
                  {each.name}
                </option>
              ))}
          </select>
        </label>
        <label>
          File names also stand in
          <select className="select" value={column} onChange={(event) => setColumn(event.target.value)}>
            <option value="">no column</option>
            {texts.map((each) => (
              <option key={each.id} value={each.id}>
                {each.name}
              </option>
            ))}
          </select>
        </label>
      </div>
      <table className="plan-table">
        <thead>
          <tr>
            <th scope="col">Put</th>
            <th scope="col">File</th>
            <th scope="col">Card</th>
            <th scope="col">Found by</th>
          </tr>
        </thead>
        <tbody>
          {found?.slice(0, MOST_SHOWN).map((each) => (
            <tr key={placeOf(each)} className={each.card ? "" : "plan-left"}>
              <td>
                <input
                  type="checkbox"
                  disabled={!each.card}
                  checked={takes(each)}
                  aria-label={`Put ${each.file} on ${cards[each.card ?? ""]?.title ?? "no card"}`}
                  onChange={() => setTurned({ ...turned, [placeOf(each)]: !takes(each) })}
                />
              </td>
              <td className="picture-file">
                <img src={`/api/art/${shas[each.file]}`} alt="" loading="lazy" /> {each.file}
              </td>
              <td>{cards[each.card ?? ""]?.title ?? <span className="soft">none</span>}</td>
              <td className={each.near ? "needs" : "soft"}>
                {each.how}
                {each.taken ? `; ${each.taken} is for it already` : ""}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {refused.map((each) => (
        <p key={each.name} className="needs">
          {each.name}: {each.problem?.what} — {each.problem?.mend}
        </p>
      ))}
      <div className="files-foot">
        <button type="button" className="button" onClick={close}>
          Leave them in the list
        </button>
        <button type="button" className="button button-main" disabled={!taken.length} onClick={() => void put()}>
          Put {counted(taken.length, "picture")} on cards
        </button>
      </div>
    </section>
  );
}

// Symbols and fonts of a game: import, names, uses, license lines.

import { ImagePlus, Trash2, Type } from "lucide-react";
import { useRef, useState } from "react";
import { ApiError, type Problem, type Schemas } from "../../state/client";
import { useGame } from "../../state/store";
import { SymbolMark } from "../../ui/SymbolMark";
import { Ticking, Typing } from "../../ui/Typing";
import * as requests from "../api";
import { freeId } from "../ids";
import { SYMBOLS } from "../symbols";
import type { FontUse, OwnFont, OwnSymbol, Write } from "../useParts";

const USES: [FontUse, string][] = [
  ["name", "Names"],
  ["body", "Texts"],
  ["italic", "Italic"],
  ["figures", "Numbers and bold"],
];
const SAMPLE = "Handglove 0123";

type Props = { symbols: OwnSymbol[]; fonts: OwnFont[]; write: Write };

export function OwnFilesEditor({ symbols, fonts, write }: Props) {
  return (
    <>
      <OwnSymbols symbols={symbols} write={write} />
      <OwnFontList fonts={fonts} write={write} />
    </>
  );
}

/** An id that begins as those of own symbols and fonts do. */
const ownId = (name: string, others: { id: string }[]): string => {
  const bare = others.map(({ id }) => ({ id: id.replace(/^own-/, "") }));
  return `own-${freeId(name, bare)}`.slice(0, 40);
};
const stemOf = (file: string): string =>
  file
    .replace(/\.[^.]*$/, "")
    .replace(/[_-]+/g, " ")
    .trim()
    .slice(0, 60) || "Symbol";
const freeNameOf = (name: string, others: { name: string }[]): string => {
  const taken = new Set(others.map((each) => each.name.toLowerCase()));
  let free = name;
  for (let number = 2; taken.has(free.toLowerCase()); number++) free = `${name} ${number}`;
  return free;
};

function OwnSymbols({ symbols, write }: { symbols: OwnSymbol[]; write: Write }) {
  const game = useGame((state) => state.game?.id ?? "");
  const [troubles, setTroubles] = useState<string[]>([]);
  const { busy, run } = useOneAtATime();
  const bring = (files: File[]) =>
    run(async () => {
      const made: OwnSymbol[] = [...symbols];
      const wrong: string[] = [];
      for (const file of files) {
        const found = await sent<Schemas["BroughtOut"]>(`/api/games/${game}/pictures`, file);
        if ("problem" in found && found.problem) wrong.push(`${file.name}: ${told(found.problem)}`);
        else if ("sha" in found && found.sha) {
          const name = freeNameOf(stemOf(file.name), made);
          made.push({ id: ownId(name, made), name, art: found.sha, license: "" });
        }
      }
      setTroubles(wrong);
      if (made.length > symbols.length) await write("symbols", made);
    });
  const put = (at: number, part: Partial<OwnSymbol>) =>
    void write(
      "symbols",
      symbols.map((each, place) => (place === at ? { ...each, ...part } : each)),
    );
  return (
    <section aria-label="Symbols">
      <h3 className="own-head">Symbols</h3>
      <p className="soft">
        Resources, stats, choices and face plans choose from {SYMBOLS.length} built-in symbols and those of your own.
        Write <code>{"{own-sun}"}</code> in a text to put one there.
      </p>
      <FileDrop
        label="Import symbols"
        accept=".svg,.png,image/svg+xml,image/png"
        hint="SVG or PNG, best square; drop several at once"
        busy={busy}
        bring={bring}
        icon={<ImagePlus size={14} aria-hidden="true" />}
        many
      />
      <Troubles of={troubles} />
      {symbols.length === 0 && <p className="soft">No symbols of your own yet.</p>}
      <ul className="part-list">
        {symbols.map((each, at) => (
          <li key={each.id} className="part-line" aria-label={each.name}>
            <SymbolMark symbol={{ path: "", art: each.art }} size={30} className="part-symbol" />
            <Typing
              label="Name"
              value={each.name}
              commit={(name) => (name.trim() ? put(at, { name: name.trim() }) : false)}
            />
            <span className="own-id">
              in texts <code>{`{${each.id}}`}</code>
            </span>
            <LicenseAndRemove
              of={each}
              put={(license) => put(at, { license })}
              remove={() =>
                void write(
                  "symbols",
                  symbols.filter((_, place) => place !== at),
                )
              }
              help="Refused while something uses it"
            />
          </li>
        ))}
      </ul>
    </section>
  );
}

function OwnFontList({ fonts, write }: { fonts: OwnFont[]; write: Write }) {
  const game = useGame((state) => state.game?.id ?? "");
  const own = useGame((state) => state.game?.own_fonts);
  const [troubles, setTroubles] = useState<string[]>([]);
  const [notes, setNotes] = useState<string[]>([]);
  const { busy, run } = useOneAtATime();
  const bring = (files: File[]) =>
    run(async () => {
      const made = [...fonts];
      const wrong: string[] = [];
      const news: string[] = [];
      for (const file of files) {
        const found = await sent<Schemas["FontOut"]>(`/api/games/${game}/fonts`, file);
        if ("problem" in found) {
          wrong.push(`${file.name}: ${told(found.problem)}`);
          continue;
        }
        const refused = await drawnHere(found.file);
        if (refused) {
          wrong.push(`${file.name}: ${refused}`);
          continue;
        }
        const name = freeNameOf(found.name, made);
        news.push(...found.notes.map((note) => `${name}: ${note}`));
        made.push({ id: ownId(name, made), name, file: found.file, license: found.license, uses: [] });
      }
      setTroubles(wrong);
      setNotes(news);
      if (made.length > fonts.length) await write("fonts", made);
    });
  const put = (at: number, part: Partial<OwnFont>) =>
    void write(
      "fonts",
      fonts.map((each, place) => (place === at ? { ...each, ...part } : each)),
    );
  /** A use has one font: whoever had it gives it up. */
  const use = (at: number, what: FontUse, on: boolean) =>
    void write(
      "fonts",
      fonts.map((each, place) => ({
        ...each,
        uses: USES.map(([id]) => id).filter((id) => (id === what ? on && place === at : each.uses.includes(id))),
      })),
    );
  return (
    <section aria-label="Fonts">
      <h3 className="own-head">Fonts</h3>
      <p className="soft">
        A font of your own replaces a built-in one on all faces, on screen, in PDF and in pictures. What it lacks, the
        built-in font has.
      </p>
      <FileDrop
        label="Import a font"
        accept=".ttf,.otf,.woff,.woff2,font/ttf,font/otf,font/woff,font/woff2"
        hint="TTF, OTF, WOFF or WOFF2"
        busy={busy}
        bring={bring}
        icon={<Type size={14} aria-hidden="true" />}
        many
      />
      <Troubles of={troubles} />
      {notes.map((note) => (
        <p key={note} className="soft">
          {note}.
        </p>
      ))}
      {fonts.length === 0 && <p className="soft">No fonts of your own yet.</p>}
      <ul className="part-list">
        {fonts.map((each, at) => (
          <li key={each.id} className="part-line own-font" aria-label={each.name}>
            <span
              className="own-sample"
              style={{ fontFamily: `"Dramok ${own?.find((one) => one.id === each.id)?.face ?? ""}"` }}
            >
              {SAMPLE}
            </span>
            <Typing
              label="Name"
              value={each.name}
              commit={(name) => (name.trim() ? put(at, { name: name.trim() }) : false)}
            />
            <fieldset className="own-uses">
              <legend>Used for</legend>
              {USES.map(([id, name]) => (
                <Ticking key={id} label={name} value={each.uses.includes(id)} commit={(on) => use(at, id, on)} />
              ))}
            </fieldset>
            <LicenseAndRemove
              of={each}
              put={(license) => put(at, { license })}
              remove={() =>
                void write(
                  "fonts",
                  fonts.filter((_, place) => place !== at),
                )
              }
            />
          </li>
        ))}
      </ul>
    </section>
  );
}

type LineProps = {
  of: { name: string; license?: string };
  put: (license: string) => void;
  remove: () => void;
  help?: string;
};

/** The end of the line of a symbol or a font. */
function LicenseAndRemove({ of, put, remove, help }: LineProps) {
  return (
    <>
      <Typing
        label="License"
        className="own-license"
        value={of.license ?? ""}
        placeholder="Who made it, and how it may be used"
        commit={put}
      />
      <button type="button" className="icon-button" aria-label={`Remove ${of.name}`} title={help} onClick={remove}>
        <Trash2 size={15} aria-hidden="true" />
      </button>
    </>
  );
}

type DropProps = {
  label: string;
  accept: string;
  hint: string;
  busy: boolean;
  bring: (files: File[]) => void;
  icon: React.ReactNode;
  many: boolean;
};

function FileDrop({ label, accept, hint, busy, bring, icon, many }: DropProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <section
      aria-label={label}
      className="own-drop"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        bring([...event.dataTransfer.files]);
      }}
    >
      <button type="button" className="button" disabled={busy} onClick={() => input.current?.click()}>
        {icon} {busy ? "Importing…" : `${label}…`}
      </button>
      <span className="soft">{hint}</span>
      <input
        ref={input}
        type="file"
        className="unseen"
        tabIndex={-1}
        aria-label={label}
        accept={accept}
        multiple={many}
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = "";
          if (files.length) bring(files);
        }}
      />
    </section>
  );
}

function Troubles({ of }: { of: string[] }) {
  if (!of.length) return null;
  return (
    <div className="own-troubles" role="alert">
      {of.map((each) => (
        <p key={each} className="needs">
          {each}
        </p>
      ))}
    </div>
  );
}

const told = (problem: { what?: string; detail?: string; mend?: string }): string =>
  [problem.what ?? problem.detail, problem.mend].filter(Boolean).join(" — ");

/** A file sent by itself: what the server found, or its problem. */
async function sent<T extends object>(path: string, file: File): Promise<T | { problem: Problem }> {
  const body = new FormData();
  body.append("file", file);
  try {
    return (await requests.sendFile(path, body)) as T;
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    return { problem: error.problem };
  }
}

/** Whether this browser draws a font, too: what is wrong with it, or nothing. */
async function drawnHere(file: string): Promise<string | null> {
  try {
    await new FontFace("Dramok check", `url("/api/own-fonts/${file}")`).load();
    return null;
  } catch {
    return "this browser can't draw it — choose another file, or save it again as a TTF";
  }
}

function useOneAtATime() {
  const [busy, setBusy] = useState(false);
  const run = async (work: () => Promise<unknown>) => {
    setBusy(true);
    await work().finally(() => setBusy(false));
  };
  return { busy, run: (work: () => Promise<unknown>) => void run(work) };
}

// The game's keywords, bold in texts, with their meanings.

import { Download, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Rules } from "../../state/cardRules";
import { ApiError, type Schemas } from "../../state/client";
import { say, useGame } from "../../state/store";
import { change, signed } from "../../state/writing";
import { NewNameInput } from "../../ui/NewNameInput";
import { counted } from "../../ui/plural";
import { SheetDialog } from "../../ui/Sheet";
import { Typing } from "../../ui/Typing";
import * as requests from "../api";
import { fetchRules, useDocDraft } from "../useDocDraft";

type Keyword = { name: string; reminder: string };
type Renaming = { old: string; name: string; plan: Schemas["KeywordPlanOut"] };

const asKeywords = (rules: Rules): Keyword[] =>
  rules.keywords.map((each) => ({ name: each.name, reminder: each.reminder ?? "" }));

export function KeywordsEditor({ rules }: { rules: Rules }) {
  const seq = useGame((state) => state.seq);
  const game = useGame((state) => state.game?.id ?? "");
  const [renaming, setRenaming] = useState<Renaming | null>(null);
  /** A rename that was called off: its box shows the old name again. */
  const [round, setRound] = useState(0);
  const write = (keywords: Keyword[], renames: Record<string, string> = {}) =>
    change((game, key, base) =>
      requests.putKeywords({
        params: signed(game, key),
        body: { keywords, base, renames },
      }),
    );
  const { draft: held, edit } = useDocDraft(asKeywords(rules), {
    fetched: async () => {
      const now = await fetchRules();
      return now && asKeywords(now);
    },
    write,
    back: true,
  });
  const put = (name: string, part: Partial<Keyword>) =>
    void edit((all) => all.map((each) => (each.name === name ? { ...each, ...part } : each)));
  /** A keyword that stands in texts is renamed there too, in the same step; which they are is shown first. */
  const rename = async (at: number, name: string) => {
    const old = held[at]?.name ?? "";
    const keywords = held.map((each, place) => (place === at ? { ...each, name } : each));
    if (!name.trim()) return put(old, { name });
    const renames = { [old]: name.trim() };
    try {
      const plan = await requests.lookAtKeywords({
        params: { path: { game_id: game } },
        body: { keywords, base: seq, renames },
      });
      if (plan.total) setRenaming({ old, name: name.trim(), plan });
      else
        void edit(
          (all) => all.map((each) => (each.name === old ? { ...each, name } : each)),
          (now) => write(now, renames),
        );
    } catch (error) {
      if (!(error instanceof ApiError)) throw error;
      say(error.problem);
    }
  };
  return (
    <div className="rules-editor">
      <div className="rules-main">
        <h1 className="rules-title">Keywords</h1>
        <p className="soft">
          A keyword is set in bold wherever it stands in a card's text. What it means is printed where a face plan shows
          reminders.
        </p>
        {held.length > 0 && (
          <p className="glossary-links">
            For the rulebook:
            {(["pdf", "md"] as const).map((form) => (
              <a key={form} className="small-button" href={`/api/games/${game}/output/glossary.${form}`} download>
                <Download size={13} aria-hidden="true" /> {form === "pdf" ? "Glossary as PDF" : "as Markdown"}
              </a>
            ))}
          </p>
        )}
        {held.length === 0 && <p className="rules-inherited">No keyword yet. Name one below.</p>}
        <ul className="keywords">
          {held.map((each, at) => (
            <li key={`${at} ${round}`} className="keyword">
              <Typing label={`Keyword ${at + 1}`} hidden value={each.name} commit={(name) => void rename(at, name)} />
              <Typing
                label={`${each.name}: reminder`}
                hidden
                value={each.reminder}
                placeholder="What it means, in a sentence"
                commit={(reminder) => put(each.name, { reminder })}
              />
              <button
                type="button"
                className="icon-button"
                aria-label={`Remove ${each.name}`}
                title="Remove"
                onClick={() => void edit((all) => all.filter((other) => other.name !== each.name))}
              >
                <Trash2 size={15} aria-hidden="true" />
              </button>
            </li>
          ))}
        </ul>
        <NewNameInput
          label="New keyword"
          adds="Add the keyword"
          className="rules-add keyword-add"
          add={(name) => edit((all) => [...all, { name, reminder: "" }])}
        />
        {renaming && (
          <RenameDialog
            renaming={renaming}
            close={() => {
              setRenaming(null);
              setRound(round + 1);
            }}
            go={(texts) => {
              const { old, name } = renaming;
              void edit(
                (all) => all.map((each) => (each.name === old ? { ...each, name } : each)),
                (now) => write(now, texts ? { [old]: name } : {}),
              );
              setRenaming(null);
            }}
          />
        )}
      </div>
    </div>
  );
}

type RenameProps = { renaming: Renaming; close: () => void; go: (texts: boolean) => void };

/** In which texts a keyword stands that is being renamed, before and after. */
function RenameDialog({ renaming, close, go }: RenameProps) {
  const { old, name, plan } = renaming;
  const texts = counted(plan.total, "text");
  return (
    <SheetDialog open setOpen={(open) => !open && close()} title={`Rename ${old} to ${name}`} className="rename-dialog">
      <p>
        <b>{old}</b> stands in {texts}
        {plan.cards > 0 && `, on ${counted(plan.cards, "card")}`}. They change in the same step, and one undo brings all
        of it back.
      </p>
      <ul className="rename-uses" tabIndex={0} aria-label="Texts that change">
        {plan.uses.map((use, place) => (
          <li key={place}>
            <span className="soft">
              {use.title && `${use.title}, `}
              {use.where}
            </span>
            <del>{use.before}</del>
            <ins>{use.after}</ins>
          </li>
        ))}
        {plan.total > plan.uses.length && <li className="soft">and {plan.total - plan.uses.length} more</li>}
      </ul>
      <div className="rename-foot">
        <button type="button" className="button" onClick={close}>
          Cancel
        </button>
        <button type="button" className="button" onClick={() => go(false)}>
          Rename the keyword only
        </button>
        <button type="button" className="button button-main" data-first onClick={() => go(true)}>
          Rename it and change {texts}
        </button>
      </div>
    </SheetDialog>
  );
}

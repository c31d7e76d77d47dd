// The back of the cards of a type or set.
import { useId } from "react";
import type { Schemas } from "../../state/client";
import { GROUNDS } from "../../ui/backPatterns";
import { Labelled, Picking, Ticking, Typing } from "../../ui/Typing";

type BackDoc = Partial<Schemas["Back"]> | null | undefined;

type Props = { of: string; back: BackDoc; otherwise: string; change: (back: BackDoc) => void };

export function BackEditor({ of, back, otherwise, change }: Props) {
  return (
    <div className="form form-row back-editor">
      <Ticking
        label={`${of} a back of its own`}
        value={Boolean(back)}
        commit={(own) => change(own ? { title: "", colour: "#24463b", ground: "diamonds" } : null)}
      />
      {back ? (
        <>
          <Typing
            label="Title"
            value={back.title ?? ""}
            placeholder="the game’s name"
            commit={(title) => change({ ...back, title })}
          />
          <Picking
            label="Ground"
            value={back.ground ?? "trellis"}
            options={GROUNDS}
            commit={(ground) => change({ ...back, ground: ground as never })}
          />
          <Colour label="Colour" value={back.colour ?? "#24463b"} commit={(colour) => change({ ...back, colour })} />
        </>
      ) : (
        <span className="soft">{otherwise}</span>
      )}
    </div>
  );
}

type ColourProps = { label: string; value: string; commit: (value: string) => void; hidden?: boolean };

/** A colour is committed when its picker is left, so that drawing through it is one step. */
export function Colour({ label, value, commit, hidden }: ColourProps) {
  const id = useId();
  return (
    <Labelled id={id} label={label} hidden={hidden}>
      <input
        key={value}
        id={id}
        type="color"
        className="colour-input"
        aria-label={hidden ? label : undefined}
        defaultValue={value}
        onBlur={(event) => event.target.value !== value && commit(event.target.value)}
      />
    </Labelled>
  );
}

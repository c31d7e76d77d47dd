// Settings for movement and sound at the table.
import { SlidersHorizontal } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { useWindowKeys } from "../../ui/windowKeys";
import { HAPPENINGS, type Happening, setLively, useLively } from "../motion";
import { HandSettings } from "./HandSettings";

const STAYS: [number, string][] = [
  [0, "not at all"],
  [1, "1 second"],
  [2, "2 seconds"],
  [5, "5 seconds"],
  [-1, "until something is decided"],
];

export function MotionSettings() {
  const [open, setOpen] = useState(false);
  const held = useRef<HTMLDivElement>(null);
  const settings = useLively();
  useEffect(() => {
    if (!open) return;
    const leave = (event: PointerEvent) => {
      if (!held.current?.contains(event.target as Node)) setOpen(false);
    };
    window.addEventListener("pointerdown", leave);
    return () => window.removeEventListener("pointerdown", leave);
  }, [open]);
  // Escape closes it, wherever the focus is, and does nothing else.
  const closing = (event: KeyboardEvent) => {
    if (event.key !== "Escape") return;
    event.stopPropagation();
    setOpen(false);
    held.current?.querySelector("button")?.focus();
  };
  useWindowKeys(open ? closing : null, true);
  const ticked = (list: Happening[], id: Happening, on: boolean) =>
    on ? list.filter((each) => each !== id) : [...list, id];
  return (
    <div className="lively" ref={held}>
      <button
        type="button"
        className="mat-button"
        aria-expanded={open}
        aria-label="Movement, sound, hand"
        title="Movement, sound, and how the hand lies"
        onClick={() => setOpen(!open)}
      >
        <SlidersHorizontal size={14} aria-hidden="true" />
      </button>
      {open && (
        <section className="lively-open" aria-label="Movement and sound">
          <table>
            <thead>
              <tr>
                <th scope="col">When</th>
                <th scope="col">
                  <label>
                    <input
                      type="checkbox"
                      checked={settings.moves}
                      onChange={(event) => setLively({ moves: event.target.checked })}
                    />{" "}
                    it moves
                  </label>
                </th>
                <th scope="col">
                  <label>
                    <input
                      type="checkbox"
                      checked={settings.sounds}
                      onChange={(event) => setLively({ sounds: event.target.checked })}
                    />{" "}
                    it sounds
                  </label>
                </th>
              </tr>
            </thead>
            <tbody>
              {HAPPENINGS.map((each) => (
                <tr key={each.id}>
                  <th scope="row">{each.name}</th>
                  <td>
                    {["drawn", "played"].includes(each.id) && (
                      <input
                        type="checkbox"
                        aria-label={`${each.name}: it moves`}
                        disabled={!settings.moves}
                        checked={!settings.still.includes(each.id)}
                        onChange={(event) =>
                          setLively({ still: ticked(settings.still, each.id, event.target.checked) })
                        }
                      />
                    )}
                  </td>
                  <td>
                    <input
                      type="checkbox"
                      aria-label={`${each.name}: it sounds`}
                      disabled={!settings.sounds}
                      checked={!settings.silent.includes(each.id)}
                      onChange={(event) =>
                        setLively({ silent: ticked(settings.silent, each.id, event.target.checked) })
                      }
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <label className="lively-stay">
            A played card stays in sight{" "}
            <select
              className="select"
              value={settings.stay}
              onChange={(event) => setLively({ stay: Number(event.target.value) })}
            >
              {STAYS.map(([value, said]) => (
                <option key={value} value={value}>
                  {said}
                </option>
              ))}
            </select>
          </label>
          <HandSettings />
        </section>
      )}
    </div>
  );
}

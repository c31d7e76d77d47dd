// An amount, written as in effects, with its words below: the server parses it.
import { Typing } from "../../../ui/Typing";

type Props = {
  text: string;
  words: string;
  put: (text: string) => void;
  label?: string;
  placeholder?: string;
  /** It can be left out. */
  empty?: boolean;
};

export function AmountInput({ text, words, put, label = "Amount", placeholder, empty = false }: Props) {
  return (
    <span className="amount-input">
      <Typing
        label={label}
        value={text}
        {...(placeholder ? { placeholder } : {})}
        commit={(said) => (said.trim() || empty ? put(said.trim()) : false)}
      />
      <span className="soft">{words}</span>
    </span>
  );
}

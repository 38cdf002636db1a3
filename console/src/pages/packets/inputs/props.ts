/** What the inputs of a question are given. */
import type { Packet, Question } from "../../../api/packets";

export interface InputProps {
  question: Question;
  packet: Packet;
  disabled: boolean;
  save: (value: string) => void;
}

export interface FieldProps {
  id: string;
  value: string;
  disabled: boolean;
  save: (value: string) => void;
}

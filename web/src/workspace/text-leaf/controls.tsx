/** The small controls of the bar at a selection. */
import { chakra } from "@chakra-ui/react";

export const Press = chakra("button");
const Select = chakra("select");

export type Choices = readonly (readonly [value: string, name: string])[];

interface Props {
  label: string;
  value: string;
  width: string;
  choices: Choices;
  set: (value: string) => void;
}

export const Choice = ({ label, value, width, choices, set }: Props) => (
  <Select
    aria-label={label}
    title={label}
    h="28px"
    w={width}
    px="1"
    fontSize="13px"
    rounded="sm"
    bg="raised"
    borderWidth="1px"
    borderColor="edge"
    value={value}
    onChange={(event) => set(event.target.value)}
  >
    {choices.map(([key, name]) => (
      <option key={key} value={key}>
        {name}
      </option>
    ))}
  </Select>
);

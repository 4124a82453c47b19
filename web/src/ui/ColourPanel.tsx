import { HexColorInput, HexColorPicker } from "react-colorful";

/** A field to choose a colour from, and its number. */
export default function ColourPanel({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  return (
    <>
      <HexColorPicker color={value} onChange={onChange} />
      <HexColorInput
        className="field mono"
        aria-label="Number of the colour"
        prefixed
        color={value}
        onChange={onChange}
      />
    </>
  );
}

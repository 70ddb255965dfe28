// The recipe form, and setting its fields as if the artist had typed.
export const form = () => document.getElementById("recipe");
export const field = (name) => form().elements.namedItem(name);

export function set(name, value) {
  const input = field(name);
  input.value = value;
  input.dispatchEvent(new Event("input", { bubbles: true }));
  input.dispatchEvent(new Event("change", { bubbles: true }));
}

/** The sign of the product. */
export function Mark() {
  return (
    <img
      src="/favicon.svg"
      alt=""
      className="size-7 rounded-[3px] [[data-theme=lamp]_&]:bg-[#e9e0cf] [[data-theme=lamp]_&]:p-0.5"
    />
  );
}

/** Buttons: plain, strong for the one thing to do, and the light one on the dark head. */
import type { ButtonHTMLAttributes } from "react";

const LOOKS = {
  plain: "bg-leaf text-ink border border-line hover:border-ink",
  strong: "bg-ink text-leaf border border-ink hover:opacity-90",
  head: "bg-[#fbfdfc] text-[#12262e] border border-[#fbfdfc] hover:opacity-90",
  danger: "bg-leaf text-madder border border-madder hover:bg-madder hover:text-leaf",
  bare: "text-ink underline underline-offset-2 px-0",
};

export function Button({
  look = "plain",
  className = "",
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: keyof typeof LOOKS }) {
  return (
    <button
      type="button"
      {...rest}
      className={`rounded-[3px] px-3 py-1.5 font-bold whitespace-nowrap disabled:cursor-default disabled:opacity-50 ${LOOKS[look]} ${className}`}
    />
  );
}

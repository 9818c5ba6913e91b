/** The tabs at the head of a pair. */
import { Tabs as Radix } from "radix-ui";

import { TABS } from "./tabs";

export function TabList() {
  return (
    <Radix.List aria-label="What is read of the pair" className="flex shrink-0 gap-1 max-[899px]:w-full max-[899px]:shrink max-[899px]:flex-wrap">
      {TABS.map(([name, words]) => (
        <Radix.Trigger
          key={name}
          value={name}
          className="data-[state=active]:border-ink text-soft data-[state=active]:text-ink border-b-[3px] border-transparent px-2 py-1 text-[14px] whitespace-nowrap data-[state=active]:font-bold"
        >
          {words}
        </Radix.Trigger>
      ))}
    </Radix.List>
  );
}

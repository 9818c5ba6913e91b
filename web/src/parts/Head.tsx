/** The dark head of every view, and the person's menu. */
import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";
import { Link, useNavigate } from "react-router";

import { api } from "../api/client";
import { useSession } from "../lib/queries";
import { useTheme } from "../lib/theme";

export function Head({ children, end }: { children?: ReactNode; end?: ReactNode }) {
  return (
    <header className="on-head bg-head flex h-[48px] shrink-0 items-center gap-4 px-6 text-[#fbfdfc] max-[899px]:gap-2.5 max-[899px]:px-4 max-[599px]:h-auto max-[599px]:min-h-[48px] max-[599px]:flex-wrap max-[599px]:gap-y-1 max-[599px]:py-1.5">
      <Link to="/" className="font-serif text-[21px] font-semibold">
        Palinode
      </Link>
      {children}
      <span className="ml-auto" />
      {end}
      <PersonMenu />
    </header>
  );
}

const ITEM = "block w-full rounded-[3px] px-3 py-1.5 text-left outline-none data-[highlighted]:bg-gutter";

function PersonMenu() {
  const session = useSession();
  const [theme, turn] = useTheme();
  const navigate = useNavigate();
  const user = session.data?.user;
  if (!user) return null;

  async function signOut() {
    await api.DELETE("/api/session/");
    // Loaded anew, so that nothing that was read stays in memory.
    window.location.assign("/");
  }

  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="rounded-[3px] px-2 py-1 text-[14px] font-semibold hover:underline" aria-label={`Your account, ${user.username}`}>
        {user.username}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="bg-leaf text-ink border-edge z-40 min-w-[180px] rounded-[4px] border p-1 shadow-lg"
        >
          <DropdownMenu.Item className={ITEM} onSelect={() => void navigate("/account")}>
            Account and tokens
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={turn}>
            {theme === "dark" ? "Light theme" : "Dark theme"}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => void signOut()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

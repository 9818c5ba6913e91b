/** A view loaded when it is opened: what stands there meanwhile, and what is said if it does not come. */
import { Component, Suspense, type ReactNode } from "react";

import { Failed, Loading } from "./Notice";

type Props = { children: ReactNode };

export class ViewBoundary extends Component<Props, { error: Error | null }> {
  override state = { error: null as Error | null };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  override render() {
    const { error } = this.state;
    if (!error) return <Suspense fallback={<Loading what="the view" />}>{this.props.children}</Suspense>;
    // A newer version may have taken the place of the one that this page came from.
    const said = /import|module|chunk|load/i.test(error.message) ? "This part of the interface could not be loaded. Load the page again." : error.message;
    return <Failed error={new Error(said)} again={() => window.location.reload()} />;
  }
}

import { Component, type ReactNode } from "react";
import { Trouble } from "../components/Trouble";

interface Props {
  children: ReactNode;
}

/** A page that fails does not take the header, Weigh and what is typed there with it. */
export class PageGuard extends Component<Props, { failed: Error | null }> {
  override state = { failed: null as Error | null };

  static getDerivedStateFromError(failed: Error) {
    return { failed };
  }

  override render() {
    const { failed } = this.state;
    if (failed === null) return this.props.children;
    const error = new Error(
      /import|module|fetch/i.test(failed.message)
        ? "This page could not be loaded: the server was not reached, or Darre was updated. What waits in this browser is safe."
        : "This page failed. What waits in this browser is safe.",
    );
    return (
      <Trouble
        error={error}
        onRetry={() => {
          location.reload();
        }}
      />
    );
  }
}

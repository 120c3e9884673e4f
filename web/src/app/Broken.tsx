/** A part of the page that failed does not take the rest with it. */
import { Component, type ErrorInfo, type ReactNode } from "react";
import { texts } from "../texts";

const words = texts.device.broken;

interface Props {
  /** Another place on the page: what failed there may work here. */
  where: string;
  children: ReactNode;
}

interface State {
  error: Error | null;
  where: string;
}

/** A chunk that is not there any more: the application was renewed, or the connection is gone. */
function isMissingPart(error: Error): boolean {
  return /dynamically imported module|module script|Loading chunk|preload CSS/i.test(error.message);
}

export class Broken extends Component<Props, State> {
  override state: State = { error: null, where: this.props.where };

  static getDerivedStateFromError(error: unknown): Partial<State> {
    return { error: error instanceof Error ? error : new Error(String(error)) };
  }

  static getDerivedStateFromProps(props: Props, state: State): Partial<State> | null {
    return props.where === state.where ? null : { error: null, where: props.where };
  }

  override componentDidCatch(error: Error, info: ErrorInfo): void {
    if (!isMissingPart(error)) console.warn("a part of the page failed", error.message, info.componentStack);
  }

  override render(): ReactNode {
    const { error } = this.state;
    if (error === null) return this.props.children;
    return (
      <div className="notice wrong broken" role="alert">
        <h2>{words.title}</h2>
        <p>{isMissingPart(error) ? words.missing : words.lead}</p>
        <button type="button" className="solid" onClick={() => location.reload()}>
          {words.reload}
        </button>
      </div>
    );
  }
}

import { Component, type ErrorInfo, type ReactNode } from 'react';
import { State } from '../parts/State';
import { t } from '../words/words';

type Props = { name: string; children: ReactNode };

/** Holds back what a panel throws while it is drawn: the other panels and the document go on. */
export class PanelBoundary extends Component<Props, { error?: Error; details?: string }> {
  override state: { error?: Error; details?: string } = {};

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  override componentDidCatch(error: Error, { componentStack }: ErrorInfo) {
    this.setState({ details: `${error.stack ?? error.message}\n${componentStack ?? ''}` });
  }

  override render() {
    const { error, details } = this.state;
    if (!error) return this.props.children;
    return (
      <div className="h-full overflow-auto" data-testid="panel-failed">
        <State
          is="failed"
          title={t`${this.props.name} could not be shown`}
          words={t`${error.message}. Your document is kept.`}
        >
          <button type="button" className="btn btn-sm" onClick={() => this.setState({ error: undefined })}>
            {t`Try again`}
          </button>
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => void navigator.clipboard.writeText(details ?? error.message).catch(() => {})}
          >
            {t`Copy the details`}
          </button>
          <button type="button" className="btn btn-sm" onClick={() => location.reload()}>
            {t`Reload`}
          </button>
        </State>
      </div>
    );
  }
}

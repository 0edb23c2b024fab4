import { Application } from "./Application";
import { ErrorBoundary } from "./ErrorBoundary";

export default function Page() {
  return (
    <ErrorBoundary whole>
      <Application />
    </ErrorBoundary>
  );
}

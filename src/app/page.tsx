import { Application } from "./Application";

export default function Page() {
  return <Application />;
}

import { runWorker } from "./worker";

void runWorker();

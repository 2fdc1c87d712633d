/** What is wrong with a worker that ends without a word of its own: it broke down, or was never loaded. */
export const workerFailure = ({ message }: { message?: string }): string =>
  message
    ? `A worker broke down: ${message}`
    : "A part of the program could not be loaded. Reload the page: the server may have been renewed since it was opened.";

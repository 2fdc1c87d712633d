/** Why something did not work, under what was tried; nothing where it did. */
export const ProblemLine = ({ words }: { words: string | null }) =>
  words === null ? null : (
    <p role="alert" className="text-outside">
      {words}
    </p>
  );

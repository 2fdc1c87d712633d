/** A titled part of a stage, scrolling by itself. */
export function Panel({
  title,
  aside,
  children,
}: {
  title: string;
  aside: React.ReactNode;
  children: React.ReactNode;
}) {
  return (
    <section className="flex min-h-0 flex-col px-4 py-2.5">
      <h2 className="flex justify-between gap-2 border-b border-hair pb-1.5 font-semibold">
        <span className="whitespace-nowrap">{title}</span>
        <span className="truncate font-normal text-soft" title={typeof aside === "string" ? aside : undefined}>
          {aside}
        </span>
      </h2>
      {/* Scrolled by keys as well, whatever it holds. */}
      <div className="min-h-0 flex-1 overflow-y-auto" role="group" aria-label={title} tabIndex={0}>
        {children}
      </div>
    </section>
  );
}

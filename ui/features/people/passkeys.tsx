"use client";

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { format } from "date-fns";
import { KeyRound } from "lucide-react";
import { useState } from "react";
import { addPasskey, canUsePasskeys, passkeys, removePasskey } from "@ui/api/passkeys";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";
import { TextField } from "@ui/design-system/text-field";

/** Keys that a device keeps: signing in without a password, by a finger or a PIN. */
export function Passkeys() {
  const client = useQueryClient();
  const { data: known } = useQuery({ queryKey: ["passkeys"], queryFn: passkeys });
  const [name, setName] = useState("");
  const again = () => client.invalidateQueries({ queryKey: ["passkeys"] });
  const add = async () => {
    await addPasskey(name.trim() || "this device");
    setName("");
    await again();
  };
  return (
    <section aria-label="Passkeys">
      <h2 className="pb-1 text-head">Passkeys</h2>
      <div className="flex flex-col gap-3 border border-hair bg-sheet p-3">
        {known?.length === 0 && (
          <p className="text-soft">None yet. A passkey signs you in without a password, by this device alone.</p>
        )}
        <ul>
          {known?.map((one) => (
            <li key={one.id} className="flex items-center justify-between gap-2">
              <span className="[overflow-wrap:anywhere]">
                {one.name ?? "a device"}
                {one.createdAt && (
                  <span className="text-label text-soft"> since {format(new Date(one.createdAt), "d MMMM yyyy")}</span>
                )}
              </span>
              <Button
                kind="quiet"
                onClick={() => told(removePasskey(one.id).then(again), "The passkey was not removed")}
              >
                Remove
              </Button>
            </li>
          ))}
        </ul>
        {canUsePasskeys() ? (
          <form
            className="flex items-end gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              told(add(), "No passkey was added");
            }}
          >
            <TextField
              label="Name of the device"
              placeholder="desk in room 2"
              value={name}
              onChange={setName}
              maxLength={100}
              className="min-w-0 flex-1"
            />
            <Button type="submit" className="h-8">
              <KeyRound size={13} /> Add
            </Button>
          </form>
        ) : (
          <p className="text-label text-soft">
            Passkeys are bound to a name: open the studio by its name, or as “localhost” on its own machine.
          </p>
        )}
      </div>
    </section>
  );
}

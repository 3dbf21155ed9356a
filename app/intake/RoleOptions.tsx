import { ROLE_NAMES, ROLES, type Role } from "#core/roles/roles";

interface RoleOptionsProps {
  /** Offered first, the likeliest before the others. */
  likely: Role[];
  /** How not taking the file is said here. */
  leaveOut: string;
  /** Whether each channel may be a map of its own. */
  apart?: "likely" | "possible" | "no";
}

const APART = "a different map in each channel";

/** What a map can be, to choose from. */
export function RoleOptions({ likely, leaveOut, apart = "no" }: RoleOptionsProps) {
  const option = (role: Role) => (
    <option key={role} value={role}>
      {ROLE_NAMES[role]}
    </option>
  );
  return (
    <>
      {(likely.length > 0 || apart === "likely") && (
        <optgroup label="Likely">
          {apart === "likely" && <option value="apart">{APART}</option>}
          {likely.map(option)}
        </optgroup>
      )}
      {apart === "possible" && <option value="apart">{APART}</option>}
      <option value="leave-out">{leaveOut}</option>
      {ROLES.filter((role) => !likely.includes(role)).map(option)}
    </>
  );
}

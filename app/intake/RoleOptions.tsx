import { ROLE_NAMES, ROLES, type Role } from "#core/roles/roles";

interface RoleOptionsProps {
  /** Offered first, the likeliest before the others. */
  likely: Role[];
  /** How not taking the file is said here. */
  leaveOut: string;
}

/** What a map can be, to choose from. */
export function RoleOptions({ likely, leaveOut }: RoleOptionsProps) {
  const option = (role: Role) => (
    <option key={role} value={role}>
      {ROLE_NAMES[role]}
    </option>
  );
  return (
    <>
      {likely.length > 0 && <optgroup label="Likely">{likely.map(option)}</optgroup>}
      <option value="leave-out">{leaveOut}</option>
      {ROLES.filter((role) => !likely.includes(role)).map(option)}
    </>
  );
}

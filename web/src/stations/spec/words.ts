/** Words for choices and their values. */
const VALUES: Record<string, string> = {
  soft_ground: "long studs, soft ground",
  firm_ground_round: "firm ground, round studs",
  firm_ground_blade: "firm ground, blades",
  hard_ground: "many short studs, hard ground",
  artificial_grass: "short round studs, artificial grass",
  turf: "rubber nubs, turf",
  indoor: "flat gum, indoor",
  strap_1: "one strap",
  strap_2: "two straps",
  strap_3: "three straps",
  slipper: "slip-on",
  laces_strap: "laces and strap",
  leather_unlined: "unlined leather",
  leather_lined: "lined leather",
  leather_thin: "thin leather",
  flat_dense: "flat, dense",
  grip_flat: "flat, gripping",
  gum_court: "gum, court",
};
export const CHOICE_NAMES: Record<string, string> = {
  plate: "Plate",
  sole: "Sole",
  cleat: "Cleat",
  midsole: "Midsole",
  closure: "Closure",
  upper: "Upper",
};
export const ROOM_NAMES: Record<string, string> = {
  toe_room_mm: "Room at the toe",
  toe_room_leather_mm: "Room at the toe, leather, new",
  ball_room_mm: "Room at the ball, round",
  instep_room_mm: "Room at the instep, round",
  heel_room_mm: "Room at the heel",
};
export const valueWord = (value: string): string => VALUES[value] ?? value.replaceAll("_", " ");

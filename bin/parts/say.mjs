/** One line of what is going on. */
export function say(line) {
  console.log(`▪ ${line}`);
}

/** Ends the command with a sentence and without a stack. */
export class Stop extends Error {}

/** Runs a command's main function; a Stop is said, anything else is a defect and is shown whole. */
export async function main(work) {
  try {
    await work();
  } catch (error) {
    console.error(error instanceof Stop ? `\n${error.message}\n` : error);
    process.exitCode = 1;
  }
}

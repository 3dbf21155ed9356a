import sharp from "sharp";
import { answerTasks } from "#server/pool/answerTasks";
import * as tasks from "#server/pool/poolTasks";

// What a task has read is of no use to the next one.
sharp.cache(false);
answerTasks(tasks);

/**
 * What runs inside captured pages: bundled into one script and put into a world of its own, in which pages can neither
 * see it nor change what it uses. Only the document is shared. Arguments and answers are plain data.
 */
export { answerQuestions } from './ask.ts';
export { askForImages } from './ask-for-images.ts';
export { liveMedia, readAsBrowser, ruleSetting, settingsOf } from './browser-css.ts';
export {
  aboutToPrint,
  aboutToSend,
  clickOn,
  focusOn,
  pageHeight,
  pageWidth,
  pixelRatio,
  possibleDeeds,
  scrollThrough,
  toEnd,
  toTop,
  touchPoint,
} from './controls.ts';
export { backgroundBoxes, lighterBehind } from './background-boxes.ts';
export { embedBoxes, showEmbedsAlone } from './embed-boxes.ts';
export { imageBoxes } from './image-boxes.ts';
export { largestPicture } from './largest-picture.ts';
export { lateSheetsArrive, shiftsSince } from './late.ts';
export { boxesOf, movingBoxes, readLayout } from './layout.ts';
export { longTasksSeen, watchLongTasks } from './long-tasks.ts';
export { clickLink, linkPoint, linksOf, storedItems, timeOrigin } from './links.ts';
export { lookAtPage, textElement } from './observe.ts';
export { focusField, isSeen, pressPoint } from './own-checks.ts';
export { noteMoments, notedMoments } from './moments.ts';
export { lighterBoxes, pageFacts, pressStandIns, scrolledBy, seenElements, untilStill } from './outcome.ts';
export { paintedFaces } from './painted-text.ts';
export { elementsAt } from './points.ts';
export { fontsThere, holdStill, twoFrames } from './rest.ts';
export { slotWidths } from './slot-widths.ts';
export { aboutToTap, answerSeen, watchAnswers } from './tap-answers.ts';
export { pageRounds, scriptRounds } from './yardstick.ts';

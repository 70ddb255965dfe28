// The mends overlay. Each module has one job: the mask, how it is shown, what can be chosen by name, what the studio
// is told.
import "./keys.js";
import "./mend/overlay.js";
import "./mend/bring.js";

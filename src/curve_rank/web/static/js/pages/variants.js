// A variant's page: its folds fill when they are opened.
import "../parts/inside.js";

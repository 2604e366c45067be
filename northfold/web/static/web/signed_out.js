/* Nobody is signed in here: what the bench kept for a lost network is not left behind. */
"use strict";

if ("caches" in window) caches.delete("north-fold-bench");

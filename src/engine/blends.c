/* SPDX-License-Identifier: MIT */
/* Segments that let light through: the part by itself. */
#include "state.h"

GLANZ_CONST struct glanz_blends_part glanz_part_blends = {glanz_blend_run};

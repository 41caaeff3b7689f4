/* SPDX-License-Identifier: MIT */
/* All parts. */
#include <glanz/device.h>

GLANZ_CONST struct glanz_parts glanz_everything = {
    .checks = &glanz_part_checks,
    .control = &glanz_part_control,
#if GLANZ_FIELDS
    .fields = &glanz_part_fields,
#endif
#if GLANZ_SAVED_MOST > 0
    .saving = &glanz_part_saving,
#endif
};

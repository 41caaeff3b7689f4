/* SPDX-License-Identifier: MIT */
/* The action that recalls what was saved: by name, for what is saved is not the show's. */
#include "control.h"

#if GLANZ_SEQUENCES && GLANZ_SAVED_MOST > 0

void glanz_control_recaller(struct glanz_control *control, glanz_recaller recall, void *user) {
    if (control != NULL) {
        control->recall_saved = recall;
        control->recall_user = user;
    }
}

static glanz_status recall_saved(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                                 const struct glanz_change *change) {
    return control->recall_saved == NULL || action->param == NULL
               ? GLANZ_ERR_ABSENT
               : control->recall_saved(control->recall_user, action->param, change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_recall_saved = {
    .key = GLANZ_TEXT("recall saved"),
    .description = GLANZ_DESCRIPTION("the preset that was saved under this name, else the show's of this name"),
    .value = GLANZ_VALUE_SAVED,
    .may = GLANZ_WITH_OVER | GLANZ_WITH_AGAIN | GLANZ_WITH_FOR,
    .parts = GLANZ_PARTS_OF_SAVING,
    .act = recall_saved};

#endif

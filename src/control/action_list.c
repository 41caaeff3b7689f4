/* SPDX-License-Identifier: MIT */
/* All actions, for documents. */
#include <glanz/control.h>

#if GLANZ_SEQUENCES
GLANZ_CONST struct glanz_action_kind *GLANZ_CONST glanz_actions[] = {&glanz_action_recall,
                                                                     &glanz_action_play,
                                                                     &glanz_action_stop,
                                                                     &glanz_action_next,
                                                                     &glanz_action_previous,
                                                                     &glanz_action_brightness,
                                                                     &glanz_action_switch,
                                                                     &glanz_action_look,
                                                                     &glanz_action_pause,
                                                                     &glanz_action_jump,
                                                                     &glanz_action_random,
                                                                     &glanz_action_sleep,
                                                                     &glanz_action_take_over,
                                                                     &glanz_action_hand_back,
                                                                     &glanz_action_undo,
                                                                     &glanz_action_brighten,
                                                                     &glanz_action_dim,
                                                                     &glanz_action_adjust,
                                                                     &glanz_action_palette,
                                                                     &glanz_action_content,
                                                                     &glanz_action_begin_again,
                                                                     &glanz_action_another_preset,
                                                                     &glanz_action_another_look,
                                                                     &glanz_action_another_palette,
                                                                     &glanz_action_tap,
                                                                     &glanz_action_freeze,
                                                                     &glanz_action_step,
                                                                     &glanz_action_clear_all,
#if GLANZ_DRIVES_MOST > 0
                                                                     &glanz_action_calibrate,
#endif
#if GLANZ_SAVED_MOST > 0
                                                                     &glanz_action_recall_saved,
#endif
                                                                     NULL};
#endif

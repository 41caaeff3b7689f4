/* SPDX-License-Identifier: MIT */
/* How large structs are: an array of each, whose size the symbol table tells. Compiled for each CPU, never run. */
#if defined STRUCTS_ENGINE
#include "../src/engine/state.h"
#elif defined STRUCTS_CONTROL
#include "../src/control/control.h"
#else
#include "../src/device/whole.h"
#endif

#define SIZE(name)                                                                                                             \
    extern char size_##name[sizeof(struct name)];                                                                              \
    char size_##name[sizeof(struct name)]

#if defined STRUCTS_ENGINE
SIZE(glanz_engine);
SIZE(segment);
SIZE(layer);
#if GLANZ_GLIDES
SIZE(glide);
#endif
SIZE(output);
SIZE(supply);
#elif defined STRUCTS_CONTROL
SIZE(glanz_control);
SIZE(player);
#else
SIZE(glanz_device);
SIZE(glanz_rig);
SIZE(glanz_output);
SIZE(glanz_stretch);
SIZE(glanz_surface);
SIZE(glanz_piece);
SIZE(glanz_input);
SIZE(glanz_show);
SIZE(glanz_look);
SIZE(glanz_setting);
SIZE(glanz_segment);
SIZE(glanz_preset);
SIZE(glanz_part);
SIZE(glanz_playlist);
SIZE(glanz_item);
SIZE(glanz_trigger);
SIZE(glanz_action);
#endif

/* SPDX-License-Identifier: MIT */
/* What a program needs of a rig and a show in C: their names, and how much memory a device of them takes. */
#include "source.h"

void source_put_declarations(FILE *to, const char *name, GLANZ_CONST struct glanz_rig *rig,
                             GLANZ_CONST struct glanz_show *show) {
    unsigned frame_bytes = 0;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        frame_bytes += glanz_output_bytes(&rig->outputs[o]);
    }
    fprintf(to,
            "extern GLANZ_CONST struct glanz_rig %s_rig;\n"
            "extern GLANZ_CONST struct glanz_show %s_show;\n"
            "extern GLANZ_CONST struct glanz_parts %s_parts;\n"
            "enum { /* static GLANZ_MEMORY_FOR(memory, %s); */\n"
            "    %s_led_bytes = %lu,\n    %s_output_count = %u,\n    %s_input_count = %u,\n    %s_segment_count = %u,\n"
            "    %s_frame_bytes = %u /* that all outputs send */\n};\n",
            name, name, name, name, name, (unsigned long)(glanz_rig_led_bytes(rig) + glanz_show_memory(show, rig)), name,
            rig->output_count, name, rig->input_count, name, show->segment_count, name, frame_bytes);
    for (uint8_t i = 0; i < rig->input_count; i++) { /* in their order, into the setup's list of sounds */
        if (rig->inputs[i].kind == GLANZ_INPUT_SOUND) {
            fprintf(to, "/* for the sound of the input \"%s\": static GLANZ_SOUND_MEMORY(sound_memory_%u, %u, 1, 1, 1); */\n",
                    rig->inputs[i].name, i, glanz_hearing_filled(&rig->inputs[i].hearing).bands);
        }
    }
}

void source_put_header(FILE *to, const char *name, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    char upper[64];
    size_t i = 0;
    for (; name[i] != '\0' && i + 1 < sizeof upper; i++) {
        upper[i] = (char)(name[i] >= 'a' && name[i] <= 'z' ? name[i] - 'a' + 'A' : name[i]);
    }
    upper[i] = '\0';
    fprintf(to,
            "/* Written by \"glanz source\" from a rig and a show. */\n#ifndef %s_SHOW_H\n#define %s_SHOW_H\n\n"
            "#include <glanz/device.h>\n\n#ifdef __cplusplus\nextern \"C\" {\n#endif\n",
            upper, upper);
    source_put_declarations(to, name, rig, show);
    fputs("#ifdef __cplusplus\n}\n#endif\n#endif\n", to);
}

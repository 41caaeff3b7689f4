/* SPDX-License-Identifier: MIT */
/* source: a rig and a show as C structs that build for every target, with no JSON in the firmware; raw inputs too. */
#include <ctype.h>
#include <errno.h>
#include <stdlib.h>
#include <string.h>

#include "commands.h"

struct source { /* where it goes, and what the names begin with */
    FILE *to;
    const char *name;
};

/* A text as a C literal in GLANZ_TEXT(), or NULL. */
static void put_text(FILE *to, const char *text) {
    if (text == NULL) {
        fputs("NULL", to);
        return;
    }
    fputs("GLANZ_TEXT(\"", to);
    for (; *text != '\0'; text++) {
        unsigned char c = (unsigned char)*text;
        if (c == '"' || c == '\\') {
            fprintf(to, "\\%c", c);
        } else if (c < 32 || c > 126) {
            fprintf(to, "\\%03o", c);
        } else {
            fputc(c, to);
        }
    }
    fputs("\")", to);
}

static void put_name(FILE *to, const char *text) {
    fputs("    {.name = ", to);
    put_text(to, text);
}

/* The identifier that ends in a name: small letters and digits, all else an underscore. */
static void put_identifier(FILE *to, const char *begin, const char *name) {
    fputs(begin, to);
    for (; *name != '\0'; name++) {
        fputc(isalnum((unsigned char)*name) ? tolower((unsigned char)*name) : '_', to);
    }
}

static void begin(const struct source *source, const char *type, const char *what) {
    fprintf(source->to, "\nstatic GLANZ_CONST %s %s_%s[] = {\n", type, source->name, what);
}

static void end(const struct source *source) {
    fputs("};\n", source->to);
}

/* A member that is a list of the file, or nothing where there is none. */
static void put_list(const struct source *source, const char *member, const char *what, unsigned count, const char *counter) {
    if (count != 0) {
        fprintf(source->to, ", .%s = %s_%s, .%s = %u", member, source->name, what, counter, count);
    }
}

/* ---- the rig ---- */

static void put_stretch(const struct source *source, GLANZ_CONST struct glanz_stretch *stretch) {
    FILE *to = source->to;
    put_identifier(to, "    {.chip = &glanz_chip_", stretch->chip->name);
    fprintf(to, ", .leds = %u", stretch->leds);
    if (stretch->order != GLANZ_ORDER_CHIP) {
        fprintf(to, ", .order = GLANZ_ORDER(%u, %u, %u, %u)", glanz_order_channel(stretch->order, 0),
                glanz_order_channel(stretch->order, 1), glanz_order_channel(stretch->order, 2),
                glanz_order_channel(stretch->order, 3));
    }
    fprintf(to, ", .parallel = %u, .white_kelvin = %u, .trim = {%u, %u, %u, %u}", stretch->parallel, stretch->white_kelvin,
            stretch->trim[0], stretch->trim[1], stretch->trim[2], stretch->trim[3]);
    fprintf(to, ", .channel_ua = {%u, %u, %u, %u}, .idle_ua = %u},\n", stretch->channel_ua[0], stretch->channel_ua[1],
            stretch->channel_ua[2], stretch->channel_ua[3], stretch->idle_ua);
}

/* Panels, rings and points of the surfaces that have them. */
static void put_shapes(const struct source *source, GLANZ_CONST struct glanz_rig *rig) {
    FILE *to = source->to;
    for (unsigned s = 0; s < rig->surface_count; s++) {
        GLANZ_CONST struct glanz_surface *surface = &rig->surfaces[s];
        char name[32];
        if (surface->kind == GLANZ_SURFACE_GRID) {
            snprintf(name, sizeof name, "panels_%u", s);
            begin(source, "struct glanz_panel", name);
            for (uint8_t i = 0; i < surface->piece_count; i++) {
                GLANZ_CONST struct glanz_panel *panel = &surface->panels[i];
                put_name(to, panel->name);
                fprintf(to,
                        ", .left = %u, .top = %u, .columns = %u, .rows = %u, .wiring = %u, .turned = %u, .mirrored = %u},\n",
                        panel->left, panel->top, panel->columns, panel->rows, panel->wiring, panel->turned, panel->mirrored);
            }
            end(source);
        } else if (surface->kind == GLANZ_SURFACE_RINGS && surface->circles != NULL) {
            snprintf(name, sizeof name, "circles_%u", s);
            begin(source, "struct glanz_circle", name);
            for (uint8_t i = 0; i < surface->piece_count; i++) {
                put_name(to, surface->circles[i].name);
                fprintf(to, ", .radius = %u, .start = %u, .backward = %u},\n", surface->circles[i].radius,
                        surface->circles[i].start, surface->circles[i].backward);
            }
            end(source);
        } else if (surface->kind == GLANZ_SURFACE_POINTS) {
            uint16_t leds = glanz_surface_leds(surface);
            snprintf(name, sizeof name, "points_%u", s);
            begin(source, "struct glanz_point", name);
            for (uint16_t i = 0; i < leds; i++) {
                fprintf(to, "%s{%u, %u},", i % 8 == 0 ? i == 0 ? "    " : "\n    " : " ", surface->points[i].x,
                        surface->points[i].y);
            }
            fputc('\n', to);
            end(source);
        }
    }
}

static void put_rig(const struct source *source, GLANZ_CONST struct glanz_rig *rig) {
    FILE *to = source->to;
    begin(source, "struct glanz_supply", "supplies");
    for (uint8_t i = 0; i < rig->supply_count; i++) {
        put_name(to, rig->supplies[i].name);
        fprintf(to, ", .millivolts = %u, .limit_ma = %u},\n", (unsigned)rig->supplies[i].millivolts,
                (unsigned)rig->supplies[i].limit_ma);
    }
    end(source);
    begin(source, "struct glanz_stretch", "stretches");
    for (uint8_t o = 0; o < rig->output_count; o++) {
        for (uint8_t i = 0; i < rig->outputs[o].stretch_count; i++) {
            put_stretch(source, &rig->outputs[o].stretches[i]);
        }
    }
    end(source);
    begin(source, "struct glanz_output", "outputs");
    for (uint8_t o = 0, at = 0; o < rig->output_count; o++) {
        GLANZ_CONST struct glanz_output *output = &rig->outputs[o];
        put_name(to, output->name);
        fprintf(to, ", .stretches = &%s_stretches[%u], .stretch_count = %u, .pin = %u, .clock_pin = %u, .supply = %u",
                source->name, at, output->stretch_count, output->pin, output->clock_pin, output->supply);
        if ((output->trim[0] | output->trim[1] | output->trim[2] | output->trim[3]) != 0) {
            fprintf(to, ", .trim = {%u, %u, %u, %u}", output->trim[0], output->trim[1], output->trim[2], output->trim[3]);
        }
        fputs(output->equal ? ", .equal = 1" : "", to);
        fputs(output->faint_dark ? ", .faint_dark = 1" : "", to);
        fprintf(to, ", .buffers = %u},\n", output->buffers);
        at = (uint8_t)(at + output->stretch_count);
    }
    end(source);
    if (rig->surface_count != 0) {
        begin(source, "struct glanz_piece", "pieces");
        for (uint8_t s = 0; s < rig->surface_count; s++) {
            for (uint8_t i = 0; i < rig->surfaces[s].piece_count; i++) {
                GLANZ_CONST struct glanz_piece *piece = &rig->surfaces[s].pieces[i];
                fprintf(to, "    {.output = %u, .reversed = %u, .first = %u, .leds = %u},\n", piece->output, piece->reversed,
                        piece->first, piece->leds);
            }
        }
        end(source);
        put_shapes(source, rig);
        begin(source, "struct glanz_surface", "surfaces");
        for (unsigned s = 0, at = 0; s < rig->surface_count; s++) {
            put_name(to, rig->surfaces[s].name);
            GLANZ_CONST struct glanz_surface *surface = &rig->surfaces[s];
            static const char *const kinds[] = {"STRIP", "RING", "GRID", "RINGS", "POINTS"};
            fprintf(to, ", .pieces = &%s_pieces[%u], .piece_count = %u, .kind = GLANZ_SURFACE_%s", source->name, at,
                    surface->piece_count, kinds[surface->kind]);
            if (surface->columns != 0 || surface->rows != 0 || surface->joined) {
                fprintf(to, ", .joined = %u, .columns = %u, .rows = %u", surface->joined, surface->columns, surface->rows);
            }
            if (surface->kind == GLANZ_SURFACE_GRID) {
                fprintf(to, ", .panels = %s_panels_%u", source->name, s);
            } else if (surface->kind == GLANZ_SURFACE_POINTS) {
                fprintf(to, ", .points = %s_points_%u", source->name, s);
            } else if (surface->circles != NULL) {
                fprintf(to, ", .circles = %s_circles_%u", source->name, s);
            }
            fputs("},\n", to);
            at += surface->piece_count;
        }
        end(source);
    }
    if (rig->input_count != 0) {
        begin(source, "struct glanz_input", "inputs");
        for (uint8_t i = 0; i < rig->input_count; i++) {
            GLANZ_CONST struct glanz_input *input = &rig->inputs[i];
            put_name(to, input->name);
            fprintf(to, ", .kind = %s, .pin = %u, .pressed_low = %u",
                    input->kind == GLANZ_INPUT_BUTTON ? "GLANZ_INPUT_BUTTON" : "GLANZ_INPUT_VALUE", input->pin,
                    input->pressed_low);
            fprintf(to, ", .settle_ms = %u, .twice_ms = %u, .held_ms = %u},\n", input->settle_ms, input->twice_ms,
                    input->held_ms);
        }
        end(source);
    }
    fprintf(to, "\nGLANZ_CONST struct glanz_rig %s_rig = {.name = ", source->name);
    put_text(to, rig->name);
    fprintf(to, ", .frames_per_s = %u, .lowest_hz = %u, .free_dither = %u, .refresh_ms = %u", rig->frames_per_s, rig->lowest_hz,
            rig->free_dither, rig->refresh_ms);
    if (rig->placed) {
        fprintf(to, ", .latitude = %d, .longitude = %d, .placed = 1", (int)rig->latitude, (int)rig->longitude);
    }
    if (rig->zone != NULL) {
        fputs(", .zone = ", to);
        put_text(to, rig->zone);
    }
    put_list(source, "supplies", "supplies", rig->supply_count, "supply_count");
    put_list(source, "outputs", "outputs", rig->output_count, "output_count");
    put_list(source, "surfaces", "surfaces", rig->surface_count, "surface_count");
    put_list(source, "inputs", "inputs", rig->input_count, "input_count");
    fputs("};\n", to);
}

/* ---- the show ---- */

static void put_gradient(const struct source *source, GLANZ_CONST struct glanz_show_palette *palette, unsigned index) {
    FILE *to = source->to;
    GLANZ_CONST struct glanz_gradient *gradient = palette->gradient;
    fprintf(to, "\nstatic GLANZ_CONST struct glanz_stop %s_stops_%u[] = {\n", source->name, index);
    for (uint16_t i = 0; i < gradient->count; i++) {
        GLANZ_CONST struct glanz_stop *stop = &gradient->stops[i];
        fprintf(to, "    {%u, {%u, %u, %u}, %uu},\n", stop->at, stop->light.red, stop->light.green, stop->light.blue,
                (unsigned)stop->per);
    }
    fprintf(to, "};\nstatic GLANZ_CONST struct glanz_gradient %s_gradient_%u = {%s_stops_%u, %u, %u, {", source->name, index,
            source->name, index, gradient->count, gradient->bands);
    for (int i = 0; i < 16; i++) {
        fprintf(to, i == 0 ? "%u" : ", %u", gradient->first[i]);
    }
    fputs("}};\n", to);
    if (palette->chosen != NULL) {
        fprintf(to, "static GLANZ_CONST struct glanz_color_stop %s_chosen_%u[] = {", source->name, index);
        for (uint8_t i = 0; i < palette->chosen_count; i++) {
            fprintf(to, "%s{%u, 0x%08Xu}", i == 0 ? "" : ", ", palette->chosen[i].at, (unsigned)palette->chosen[i].color);
        }
        fputs("};\n", to);
    }
}

static void put_palettes(const struct source *source, GLANZ_CONST struct glanz_show *show) {
    FILE *to = source->to;
    for (uint8_t i = 0; i < show->palette_count; i++) {
        put_gradient(source, &show->palettes[i], i);
    }
    if (show->palette_count != 0) {
        begin(source, "struct glanz_show_palette", "palettes");
        for (uint8_t i = 0; i < show->palette_count; i++) {
            put_name(to, show->palettes[i].name);
            fprintf(to, ", .gradient = &%s_gradient_%u", source->name, i);
            if (show->palettes[i].chosen != NULL) {
                fprintf(to, ", .chosen = %s_chosen_%u, .chosen_count = %u", source->name, i, show->palettes[i].chosen_count);
            }
            fprintf(to, ", .between = %u},\n", show->palettes[i].between);
        }
        end(source);
    }
}

static void put_colors(const struct source *source, GLANZ_CONST struct glanz_show *show) {
    if (show->color_count != 0) {
        begin(source, "struct glanz_named_color", "colors");
        for (uint16_t i = 0; i < show->color_count; i++) {
            put_name(source->to, show->colors[i].name);
            fprintf(source->to, ", .color = 0x%08Xu},\n", (unsigned)show->colors[i].color);
        }
        end(source);
    }
}

static void put_pattern(const struct source *source, GLANZ_CONST struct glanz_pattern *pattern, unsigned index) {
    FILE *to = source->to;
    fprintf(to, "\nstatic GLANZ_CONST struct glanz_block %s_blocks_%u[] = {", source->name, index);
    for (uint16_t i = 0; i < pattern->count; i++) {
        fprintf(to, "%s{%u, 0x%08Xu}", i == 0 ? "" : ", ", pattern->blocks[i].leds, (unsigned)pattern->blocks[i].color);
    }
    fprintf(to, "};\nstatic GLANZ_CONST struct glanz_pattern %s_content_%u = {GLANZ_CONTENT_PATTERN, ", source->name, index);
    put_text(to, pattern->text);
    fprintf(to, ", %s_blocks_%u, %u, %u};\n", source->name, index, pattern->count, pattern->leds);
}

static void put_marks(const struct source *source, GLANZ_CONST struct glanz_marks *marks, unsigned index) {
    FILE *to = source->to;
    fprintf(to, "\nstatic GLANZ_CONST struct glanz_mark %s_marks_%u[] = {\n", source->name, index);
    for (uint16_t i = 0; i < marks->count; i++) {
        GLANZ_CONST struct glanz_mark *mark = &marks->list[i];
        fprintf(to, "    {%u, %u, %u, %u, %u, %u, %u, 0x%08Xu},\n", mark->placed, mark->first, mark->leds, mark->left,
                mark->top, mark->columns, mark->rows, (unsigned)mark->color);
    }
    fprintf(to, "};\nstatic GLANZ_CONST struct glanz_marks %s_content_%u = {GLANZ_CONTENT_MARKS, %u, %s_marks_%u};\n",
            source->name, index, marks->count, source->name, index);
}

static void put_picture(const struct source *source, GLANZ_CONST struct glanz_picture *picture, unsigned index) {
    FILE *to = source->to;
    fprintf(to, "\nstatic GLANZ_CONST uint8_t %s_bytes_%u[] = {", source->name, index);
    for (uint32_t i = 0; i < picture->count; i++) {
        fprintf(to, "%s%u,", i % 28 == 0 ? "\n    " : " ", picture->bytes[i]);
    }
    fprintf(to, "\n};\nstatic GLANZ_CONST struct glanz_picture %s_content_%u = {GLANZ_CONTENT_PICTURE, ", source->name, index);
    put_text(to, picture->name);
    fprintf(to, ", %s_bytes_%u, %u};\n", source->name, index, (unsigned)picture->count);
}

static void put_content(const struct source *source, GLANZ_CONST struct glanz_look *look, unsigned index) {
    switch (look->effect->content) {
    case GLANZ_CONTENT_PATTERN: put_pattern(source, (GLANZ_CONST struct glanz_pattern *)look->content, index); break;
    case GLANZ_CONTENT_MARKS: put_marks(source, (GLANZ_CONST struct glanz_marks *)look->content, index); break;
    case GLANZ_CONTENT_PICTURE: put_picture(source, (GLANZ_CONST struct glanz_picture *)look->content, index); break;
    case GLANZ_CONTENT_WRITING: {
        GLANZ_CONST struct glanz_writing *writing = (GLANZ_CONST struct glanz_writing *)look->content;
        fprintf(source->to, "\nstatic GLANZ_CONST struct glanz_writing %s_content_%u = {GLANZ_CONTENT_WRITING, ", source->name,
                index);
        put_text(source->to, writing->text);
        fprintf(source->to, writing->font == NULL ? ", NULL};\n" : ", &glanz_font_%s};\n",
                writing->font == NULL ? "" : writing->font->name);
        break;
    }
    default: break;
    }
}

static void put_look(const struct source *source, GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_look *look,
                     unsigned index) {
    FILE *to = source->to;
    put_name(to, look->name);
    put_identifier(to, ", .effect = &glanz_effect_", look->effect->name);
    for (uint8_t i = 0; i < show->palette_count; i++) {
        if (look->gradient != NULL && show->palettes[i].gradient == look->gradient) {
            fprintf(to, ", .gradient = &%s_gradient_%u", source->name, i);
            break;
        }
    }
    if (look->content != NULL) {
        fprintf(to, ", .content = &%s_content_%u", source->name, index);
    }
    if (look->setting_count != 0) {
        fprintf(to, ", .settings = %s_settings_%u, .setting_count = %u", source->name, index, look->setting_count);
    }
    fprintf(to, ", .brightness = %u},\n", look->brightness);
}

static void put_looks(const struct source *source, GLANZ_CONST struct glanz_show *show) {
    FILE *to = source->to;
    for (uint16_t i = 0; i < show->look_count; i++) {
        GLANZ_CONST struct glanz_look *look = &show->looks[i];
        if (look->content != NULL) {
            put_content(source, look, i);
        }
        if (look->setting_count != 0) {
            fprintf(to, "\nstatic GLANZ_CONST struct glanz_setting %s_settings_%u[] = {\n", source->name, i);
            for (uint8_t s = 0; s < look->setting_count; s++) {
                GLANZ_CONST struct glanz_param *param = &look->effect->params[look->settings[s].param];
                fprintf(to, "    {%u, %u, %d}, /* %s */\n", look->settings[s].param, look->settings[s].unit,
                        (int)look->settings[s].number, param->name);
            }
            end(source);
        }
    }
    if (show->look_count != 0) {
        begin(source, "struct glanz_look", "looks");
        for (uint16_t i = 0; i < show->look_count; i++) {
            put_look(source, show, &show->looks[i], i);
        }
        end(source);
    }
}

/* A look of the show as a pointer. */
static void put_look_pointer(const struct source *source, GLANZ_CONST struct glanz_show *show,
                             GLANZ_CONST struct glanz_look *look) {
    if (look != NULL) {
        fprintf(source->to, ", .look = &%s_looks[%u]", source->name, (unsigned)(look - show->looks));
    }
}

static void put_segments(const struct source *source, GLANZ_CONST struct glanz_show *show) {
    FILE *to = source->to;
    begin(source, "struct glanz_segment", "segments");
    for (uint8_t i = 0; i < show->segment_count; i++) {
        GLANZ_CONST struct glanz_segment *segment = &show->segments[i];
        put_name(to, segment->name);
        GLANZ_CONST struct glanz_cut *cut = &segment->cut;
        fprintf(to, ", .cut = {.first = %u, .leds = %u, .grain = %u, .reversed = %u, .mirrored = %u, .stencil = {", cut->first,
                cut->leds, cut->grain, cut->reversed, cut->mirrored);
        for (int s = 0; s < GLANZ_STENCIL; s++) {
            fprintf(to, s == 0 ? "%u" : ", %u", cut->stencil[s]);
        }
        fputc('}', to);
        if ((cut->lie | cut->turned | cut->piece | cut->columns) != 0) {
            fprintf(to, ", .lie = %u, .turned = %u, .piece = %u, .left = %u, .top = %u, .columns = %u, .rows = %u", cut->lie,
                    cut->turned, cut->piece, cut->left, cut->top, cut->columns, cut->rows);
        }
        fputc('}', to);
        put_look_pointer(source, show, segment->look);
        fprintf(to, ", .seed = 0x%08Xu, .surface = %u, .blend = %u, .off = %u, .opacity = %u, .brightness = %u},\n",
                (unsigned)segment->seed, segment->surface, segment->blend, segment->off, segment->opacity, segment->brightness);
    }
    end(source);
    if (show->stack != NULL) {
        fprintf(to, "\nstatic GLANZ_CONST uint8_t %s_stack[] = {", source->name);
        for (uint8_t i = 0; i < show->segment_count; i++) {
            fprintf(to, i == 0 ? "%u" : ", %u", show->stack[i]);
        }
        fputs("};\n", to);
    }
}

static void put_presets(const struct source *source, GLANZ_CONST struct glanz_show *show) {
    FILE *to = source->to;
    if (show->preset_count == 0) {
        return;
    }
    begin(source, "struct glanz_part", "preset_parts");
    for (uint8_t p = 0; p < show->preset_count; p++) {
        for (uint8_t i = 0; i < show->presets[p].part_count; i++) {
            GLANZ_CONST struct glanz_part *part = &show->presets[p].parts[i];
            fprintf(to, "    {.segment = %u, .aspects = %u, .on = %u, .brightness = %u", part->segment, part->aspects, part->on,
                    part->brightness);
            put_look_pointer(source, show, part->look);
            for (uint8_t k = 0; (part->aspects & GLANZ_ASPECT_PALETTE) != 0 && k < show->palette_count; k++) {
                if (show->palettes[k].gradient == part->gradient) {
                    fprintf(to, ", .gradient = &%s_gradient_%u", source->name, k);
                    break;
                }
            }
            fputs("},\n", to);
        }
    }
    end(source);
    begin(source, "struct glanz_preset", "presets");
    for (unsigned p = 0, at = 0; p < show->preset_count; p++) {
        put_name(to, show->presets[p].name);
        fprintf(to, ", .parts = &%s_preset_parts[%u], .part_count = %u},\n", source->name, at, show->presets[p].part_count);
        at += show->presets[p].part_count;
    }
    end(source);
}

static void put_playlists(const struct source *source, GLANZ_CONST struct glanz_show *show) {
    FILE *to = source->to;
    if (show->playlist_count == 0) {
        return;
    }
    begin(source, "struct glanz_item", "items");
    for (uint8_t p = 0; p < show->playlist_count; p++) {
        for (uint8_t i = 0; i < show->playlists[p].item_count; i++) {
            GLANZ_CONST struct glanz_item *item = &show->playlists[p].items[i];
            fprintf(to, "    {.preset = %u, .fade_ms = %uu, .hold_ms = %uu", item->preset, (unsigned)item->fade_ms,
                    (unsigned)item->hold_ms);
            if (item->kind != GLANZ_ITEM_PRESET) {
                fprintf(to, ", .kind = %u", item->kind);
            }
            if (item->at_ms != 0) {
                fprintf(to, ", .at_ms = %uu", (unsigned)item->at_ms);
            }
            fputs("},\n", to);
        }
    }
    end(source);
    begin(source, "struct glanz_playlist", "playlists");
    for (unsigned p = 0, at = 0; p < show->playlist_count; p++) {
        put_name(to, show->playlists[p].name);
        GLANZ_CONST struct glanz_playlist *list = &show->playlists[p];
        fprintf(to, ", .items = &%s_items[%u], .item_count = %u, .rounds = %u", source->name, at, list->item_count,
                list->rounds);
        if (list->shuffled) {
            fprintf(to, ", .shuffled = 1, .seed = 0x%08xu", (unsigned)list->seed);
        }
        if (list->timed) {
            fputs(", .timed = 1", to);
        }
        if (list->then != GLANZ_THEN_STAY) {
            fprintf(to, ", .then = %u, .then_preset = %u, .then_fade_ms = %uu", list->then, list->then_preset,
                    (unsigned)list->then_fade_ms);
        }
        fputs("},\n", to);
        at += show->playlists[p].item_count;
    }
    end(source);
}

static void put_action(const struct source *source, GLANZ_CONST struct glanz_show *show,
                       GLANZ_CONST struct glanz_action *action) {
    fputs("{.kind = &glanz_action_", source->to);
    for (const char *c = action->kind->key; *c != '\0'; c++) { /* "take over" is glanz_action_take_over */
        fputc(*c == ' ' ? '_' : *c, source->to);
    }
    fprintf(source->to, ", .target = %u, .number = %u, .over_ms = %uu", action->target, action->number,
            (unsigned)action->over_ms);
    fputs(action->again ? ", .again = 1" : "", source->to);
    put_look_pointer(source, show, action->look);
    fputs("}", source->to);
}

static void put_triggers(const struct source *source, GLANZ_CONST struct glanz_show *show) {
    FILE *to = source->to;
    if (show->start != NULL) {
        fprintf(to, "\nstatic GLANZ_CONST struct glanz_action %s_start = ", source->name);
        put_action(source, show, show->start);
        fputs(";\n", to);
    }
    if (show->trigger_count == 0) {
        return;
    }
    begin(source, "struct glanz_action", "actions");
    for (uint8_t t = 0; t < show->trigger_count; t++) {
        for (uint8_t i = 0; i < show->triggers[t].action_count; i++) {
            fputs("    ", to);
            put_action(source, show, &show->triggers[t].actions[i]);
            fputs(",\n", to);
        }
    }
    end(source);
    begin(source, "struct glanz_trigger", "triggers");
    for (unsigned t = 0, at = 0; t < show->trigger_count; t++) {
        GLANZ_CONST struct glanz_trigger *trigger = &show->triggers[t];
        put_name(to, trigger->name);
        fprintf(to, ", .input = %u, .event = %u, .level = %u, .actions = &%s_actions[%u], .action_count = %u},\n",
                trigger->input, trigger->event, trigger->level, source->name, at, trigger->action_count);
        at += trigger->action_count;
    }
    end(source);
}

static void put_moment(FILE *to, const char *name, GLANZ_CONST struct glanz_moment *moment) {
    if (moment->kind != GLANZ_MOMENT_NONE) {
        fprintf(to, ", .%s = {%u, %d}", name, moment->kind, (int)moment->second);
    }
}

static void put_calendar(const struct source *source, GLANZ_CONST struct glanz_show *show) {
    FILE *to = source->to;
    if (show->entry_count == 0) {
        return;
    }
    begin(source, "struct glanz_entry", "entries");
    for (uint8_t i = 0; i < show->entry_count; i++) {
        GLANZ_CONST struct glanz_entry *entry = &show->entries[i];
        put_name(to, entry->name);
        put_moment(to, "at", &entry->at);
        put_moment(to, "until", &entry->until);
        if (entry->from.month != 0) {
            fprintf(to, ", .from = {%u, %u, %u}, .to = {%u, %u, %u}", entry->from.year, entry->from.month, entry->from.day,
                    entry->to.year, entry->to.month, entry->to.day);
        }
        fprintf(to,
                ", .for_s = %uu, .every_s = %uu, .fade_ms = %uu, .weekdays = %u, .priority = %u, .is_playlist = %u, .target = "
                "%u},\n",
                (unsigned)entry->for_s, (unsigned)entry->every_s, (unsigned)entry->fade_ms, entry->weekdays, entry->priority,
                entry->is_playlist, entry->target);
    }
    end(source);
}

static void put_show(const struct source *source, GLANZ_CONST struct glanz_show *show) {
    FILE *to = source->to;
    put_colors(source, show);
    put_palettes(source, show);
    put_looks(source, show);
    put_segments(source, show);
    put_presets(source, show);
    put_playlists(source, show);
    put_triggers(source, show);
    put_calendar(source, show);
    fprintf(to, "\nGLANZ_CONST struct glanz_show %s_show = {.name = ", source->name);
    put_text(to, show->name);
    fprintf(to, ", .brightness = %u, .change_ms = %uu", show->brightness, (unsigned)show->change_ms);
    put_list(source, "colors", "colors", show->color_count, "color_count");
    put_list(source, "palettes", "palettes", show->palette_count, "palette_count");
    put_list(source, "looks", "looks", show->look_count, "look_count");
    put_list(source, "segments", "segments", show->segment_count, "segment_count");
    put_list(source, "presets", "presets", show->preset_count, "preset_count");
    put_list(source, "playlists", "playlists", show->playlist_count, "playlist_count");
    put_list(source, "triggers", "triggers", show->trigger_count, "trigger_count");
    put_list(source, "entries", "entries", show->entry_count, "entry_count");
    if (show->resume) {
        fputs(", .resume = 1", to);
    }
    if (show->stack != NULL) {
        fprintf(to, ", .stack = %s_stack", source->name);
    }
    if (show->start != NULL) {
        fprintf(to, ", .start = &%s_start", source->name);
    }
    fputs("};\n", to);
}

/* ---- the parts ---- */

/* What the show needs; and, where it has presets or actions, glides, so that it changes as it does on the desk. A show that
 * resumes has what saving needs, which takes no part without a store. */
static void put_parts(const struct source *source, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    unsigned needed =
        glanz_parts_needed(rig, show) | (show->resume ? GLANZ_PARTS_OF_SAVING & ~(unsigned)GLANZ_PART_SAVING : 0u);
    fprintf(source->to, "\nGLANZ_CONST struct glanz_parts %s_parts = {\n", source->name);
    for (unsigned left = needed; left != 0;) {
        const char *name = glanz_part_name(left);
        fprintf(source->to, "    .%s = &glanz_part_%s,\n", name, name);
        unsigned bit = 1;
        while ((left & bit) == 0 || strcmp(glanz_part_name(bit), name) != 0) {
            bit <<= 1;
        }
        left &= ~bit;
    }
    if ((needed & GLANZ_PART_CONTROL) != 0) {
        fputs("#if GLANZ_GLIDES\n    .glides = &glanz_part_glides,\n#endif\n", source->to);
    }
    if (show->resume) {
        fputs("#if GLANZ_SAVED_MOST > 0\n    .saving = &glanz_part_saving,\n#endif\n", source->to);
    }
    fputs("};\n", source->to);
}

/* ---- the inputs ---- */

static int put_inputs(const struct source *source, GLANZ_CONST struct glanz_rig *rig, const char *path) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text text;
    struct log log;
    if (!text_read(&text, path)) {
        return EXIT_FILE;
    }
    glanz_status status = log_read(&log, text.bytes, text.count, &fault);
    text_free(&text);
    if (status != GLANZ_OK) {
        complain(path, &fault);
        return EXIT_REFUSED;
    }
    int code = EXIT_GOOD;
    fprintf(source->to, "\nGLANZ_CONST struct glanz_pushed %s_pushed[] = {\n", source->name);
    for (size_t i = 0; i < log.count && code == EXIT_GOOD; i++) {
        uint8_t input = 0;
        while (input < rig->input_count && !glanz_text_equal(rig->inputs[input].name, log.entries[i].name)) {
            input++;
        }
        if (log.entries[i].kind != ENTRY_INPUT || input == rig->input_count || log.entries[i].at_us > UINT32_MAX) {
            complain_plain(
                "%s:%u: C source takes raw edges and values only, of inputs of the rig and within the first 71 minutes; "
                "make such a log with \"glanz play --record\"",
                path, log.entries[i].line);
            code = EXIT_REFUSED;
        } else {
            fprintf(source->to, "    {%uu, %u, %u},\n", (unsigned)log.entries[i].at_us, log.entries[i].level, input);
        }
    }
    fprintf(source->to, "    {0xFFFFFFFFu, 0, 0}, /* the end */\n};\n");
    log_free(&log);
    return code;
}

/* ---- the command ---- */

static int valid_name(const char *name) {
    for (const char *c = name; *c != '\0'; c++) {
        if (!(islower((unsigned char)*c) || *c == '_' || (c != name && isdigit((unsigned char)*c)))) {
            return 0;
        }
    }
    return name[0] != '\0' && strlen(name) < 40;
}

static int write_all(FILE *to, const struct session *session, const char *name, const char *inputs) {
    struct source source = {to, name};
    GLANZ_CONST struct glanz_rig *rig = session->rig.rig;
    GLANZ_CONST struct glanz_show *show = session->shows[0].show;
    uint32_t led_bytes = 0;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        uint8_t clocked = rig->outputs[o].stretches[0].chip->protocol == GLANZ_CLOCKED;
        for (uint8_t i = 0; i < rig->outputs[o].stretch_count; i++) {
            GLANZ_CONST struct glanz_stretch *stretch = &rig->outputs[o].stretches[i];
            uint32_t each = stretch->chip->channels * ((rig->outputs[o].buffers == 2 ? 2u : 1u) + 1u);
            led_bytes += stretch->leds * (clocked ? 12u : each);
        }
        led_bytes += clocked ? 40u : 0u;
    }
    led_bytes += (uint32_t)glanz_show_memory(show, rig); /* for effects that remember */
    fprintf(to,
            "/* Written by \"glanz source\" from a rig and a show.\n"
            " * In your program:\n"
            " *     extern GLANZ_CONST struct glanz_rig %s_rig;\n"
            " *     extern GLANZ_CONST struct glanz_show %s_show;\n"
            " *     extern GLANZ_CONST struct glanz_parts %s_parts;\n"
            " *     static GLANZ_DEVICE_MEMORY(memory, %u, %u, %u, %u); */\n"
            "#include <glanz/device.h>\n\n"
            "extern GLANZ_CONST struct glanz_rig %s_rig;\nextern GLANZ_CONST struct glanz_show %s_show;\n"
            "extern GLANZ_CONST struct glanz_parts %s_parts;\n",
            name, name, name, (unsigned)led_bytes, rig->output_count, rig->input_count, show->segment_count, name, name, name);
    if (inputs != NULL) {
        fprintf(to, "extern GLANZ_CONST struct glanz_pushed %s_pushed[];\n", name);
    }
    put_rig(&source, rig);
    put_show(&source, show);
    put_parts(&source, rig, show);
    return inputs == NULL ? EXIT_GOOD : put_inputs(&source, rig, inputs);
}

static int run(int argc, const char **argv) {
    struct arguments arguments;
    char *name = NULL;
    char *inputs = NULL;
    char *out = NULL;
    int code;
    const struct poptOption options[] = {
        {"name", 'n', POPT_ARG_STRING, &name, 0, "what the structs' names begin with (default: my)", "NAME"},
        {"inputs", 'i', POPT_ARG_STRING, &inputs, 0, "write this log of raw edges and values too", "FILE"},
        {"output", 'o', POPT_ARG_STRING, &out, 0, "where to write; else standard output", "FILE"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_source, argc, argv, options, 2, 2, &code)) {
        return code;
    }
    struct session session;
    struct glanz_board_setup setup;
    memset(&setup, 0, sizeof setup);
    if (name != NULL && !valid_name(name)) {
        complain_plain("--name %s: expected small letters, digits and underscores, a letter first, at most 39", name);
        code = EXIT_USAGE;
    } else if ((code = session_open(&session, arguments.path[0], arguments.path[1], NULL, &setup, 100)) == EXIT_GOOD) {
        /* written whole to memory first: on a failure there is no half a file */
        char *bytes = NULL;
        size_t count = 0;
        FILE *memory = open_memstream(&bytes, &count);
        code = memory == NULL ? EXIT_FILE : write_all(memory, &session, name == NULL ? "my" : name, inputs);
        if (memory != NULL && fclose(memory) != 0) {
            code = EXIT_FILE;
        }
        if (code == EXIT_GOOD) {
            code = output_bytes(out == NULL ? "-" : out, bytes, count) ? EXIT_GOOD : EXIT_FILE;
        }
        free(bytes);
        session_close(&session);
    }
    free(name);
    free(inputs);
    free(out);
    arguments_free(&arguments);
    return code;
}

const struct command command_source = {"source", "write a rig and a show as C source that builds for every target", "RIG SHOW",
                                       "  glanz source demo/rig.json demo/show.json --name museum -o museum.c\n", run};

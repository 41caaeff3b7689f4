/* SPDX-License-Identifier: MIT */
/* A page that explains every key of a document, from the rows. */
#include <string.h>

#include "commands.h"
#include "rows.h"
#include "schema.h"

#define TABLES_MOST 32

static void page_link(const char *title) {
    printf("[%s](#", title);
    for (const char *c = title; *c != '\0'; c++) {
        putchar(*c == ' ' ? '-' : *c >= 'A' && *c <= 'Z' ? *c + 32 : *c);
    }
    putchar(')');
}

static void page_value(const struct row *row) {
    const struct table *table = (const struct table *)row->arg.refers_to;
    const char *const *list = (const char *const *)row->arg.refers_to;
    switch ((enum row_kind)row->kind) {
    case ROW_NAME: fputs("a name", stdout); break;
    case ROW_FLAG: fputs("`true` or `false`", stdout); break;
    case ROW_TRUE: fputs("`true`", stdout); break;
    case ROW_COUNT: printf("%d to %u", (int)row->arg.low, (unsigned)row->high); break;
    case ROW_SET:
    case ROW_CHOICE:
        fputs(row->kind == ROW_SET ? "a list of " : "", stdout);
        for (int i = 0; list[i] != NULL; i++) {
            printf("%s`%s`", i == 0 ? "" : ", ", list[i]);
        }
        break;
    case ROW_QUANTITY: fputs(schema_quantities[row->extra].example, stdout); break;
    case ROW_COLOR: fputs("a colour", stdout); break;
    case ROW_INDEX:
    case ROW_POINTER:
        printf("the name of a%s %s", strchr("aeiou", schema_scopes[row->extra][0]) != NULL ? "n" : "",
               schema_scopes[row->extra]);
        break;
    case ROW_OBJECT:
    case ROW_OBJECT_POINTER: page_link(table->title); break;
    case ROW_LIST:
    case ROW_MAP:
        printf(row->kind == ROW_LIST ? "a list, each " : "by name, each ");
        if ((table->flags & TABLE_VALUE) != 0 && table->rows[0].kind != ROW_MAP) {
            page_value(&table->rows[0]);
        } else {
            page_link(table->title);
        }
        break;
    case ROW_HOOK: fputs(schema_hooks[row->extra].words, stdout); break;
    }
}

static void page_rows(const struct table *table) {
    puts("| key | value | what it is |\n|---|---|---|");
    for (uint8_t i = 0; i < table->count; i++) {
        const struct row *row = &table->rows[i];
        if (row->key == NULL && row->kind != ROW_MAP) {
            continue;
        }
        printf("| %s%s%s%s | ", row->key == NULL ? "a segment" : "`", row->key == NULL ? "" : row->key,
               row->key == NULL ? "" : "`",
               (row->flags & ROW_REQUIRED) != 0      ? " (needed)"
               : (row->flags & ROW_ALTERNATIVE) != 0 ? " (one of these)"
                                                     : "");
        page_value(row);
        printf(" | %s |\n", row->description == NULL ? "" : row->description);
    }
}

static void page_effects(void) {
    puts("\n## effects\n");
    for (uint8_t i = 0; glanz_effects[i] != NULL; i++) {
        GLANZ_CONST struct glanz_effect *effect = glanz_effects[i];
        printf("`%s`: %s.", effect->name, effect->description);
        for (uint8_t p = 0; p < effect->param_count; p++) {
            printf("%s`%s` (%s)", p == 0 ? " Keys: " : ", ", effect->params[p].name, effect->params[p].description);
        }
        printf("%s%s\n\n", effect->param_count == 0 ? "" : ".",
               (effect->needs & GLANZ_NEEDS_GRADIENT) != 0 ? " Takes a palette."
                                                           : " Takes a palette that `runs` by place or time.");
    }
    printf("### %s\n\nIn place of a number, a colour or a brightness of a look that follows a signal.\n\n",
           glanz_table_drive.title);
    page_rows(&glanz_table_drive);
    puts("");
    for (int kind = 1; kind <= GLANZ_CONTENT_MARKS; kind++) {
        printf("### %s\n\n", glanz_tables_of_contents[kind]->title);
        page_rows(glanz_tables_of_contents[kind]);
        puts("");
    }
    const struct table *mark = schema_table_of(glanz_tables_of_contents[GLANZ_CONTENT_MARKS], "marks");
    printf("### %s\n\n", mark->title);
    page_rows(mark);
}

static void page_actions(void) {
    puts("\nJust one of these:\n\n| key | value | what it does | goes with |\n|---|---|---|---|");
    for (size_t i = 0; glanz_actions[i] != NULL; i++) {
        const struct glanz_action_kind *kind = glanz_actions[i];
        printf("| `%s` | ", kind->key);
        page_value(&glanz_rows_of_values[kind->value]);
        printf(" | %s |", kind->description);
        for (uint8_t r = 0; r < glanz_table_action.count; r++) {
            const struct row *row = &glanz_table_action.rows[r];
            if (((kind->needs | kind->may) & row->tag) != 0) {
                printf(" `%s`%s", row->key, (kind->needs & row->tag) != 0 ? " (needed)" : "");
            }
        }
        puts(" |");
    }
    puts("\nWhat goes with them:\n");
    page_rows(&glanz_table_action);
}

/* Tables in the order in which they are met. */
static void gather(const struct table **tables, int *count, const struct table *table) {
    for (int i = 0; i < *count; i++) {
        if (tables[i] == table) {
            return;
        }
    }
    if ((table->flags & TABLE_VALUE) == 0 || table->rows[0].kind == ROW_MAP) {
        tables[(*count)++] = table;
    }
    for (uint8_t i = 0; i < table->count; i++) {
        if (table->rows[i].kind >= ROW_OBJECT && table->rows[i].kind <= ROW_MAP) {
            gather(tables, count, (const struct table *)table->rows[i].arg.refers_to);
        }
    }
}

void schema_page(const struct table *root, const char *title) {
    const struct table *tables[TABLES_MOST];
    int count = 0;
    printf("# Keys of a %s\n\nPrinted by `glanz schema %s --page` from the rows by which documents are read.\n", title, title);
    gather(tables, &count, root);
    for (int i = 0; i < count; i++) {
        printf("\n## %s\n\n", tables[i]->title);
        if (tables[i]->hook == TABLE_ACTION) {
            page_actions();
        } else {
            page_rows(tables[i]);
        }
    }
    if (root == &glanz_table_show) {
        page_effects();
    }
}

/* SPDX-License-Identifier: MIT */
/* Effects of one's own beside the catalogue; and what is said when one of them crashes. */
#include "effects.h"

#include <dlfcn.h>
#include <execinfo.h>
#include <link.h>
#include <signal.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#define EFFECTS_MOST 300
#define OBJECTS_MOST 256 /* loaded in all: those of editions gone by stay, for looks may name them */

struct object {
    char path[256]; /* of the file that was named */
    const struct glanz_effect_set *set;
    uintptr_t begin, end; /* of its code and data in memory */
};

static GLANZ_CONST struct glanz_effect *all[EFFECTS_MOST + 1];
static GLANZ_CONST struct glanz_effect *before[EFFECTS_MOST + 1]; /* the exchange */
static struct object objects[OBJECTS_MOST];
static int object_count;

void (*effects_before_end)(void);

static int count_all(void) {
    int count = 0;
    if (all[0] == NULL) {
        for (; glanz_effects[count] != NULL; count++) {
            all[count] = glanz_effects[count];
        }
        document_effects = all;
        return count;
    }
    while (all[count] != NULL) {
        count++;
    }
    return count;
}

GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects_all(void) {
    (void)count_all();
    return all;
}

GLANZ_CONST struct glanz_effect *effects_find(const char *name) {
    int count = count_all();
    for (int i = 0; i < count; i++) {
        if (strcmp(all[i]->name, name) == 0) {
            return all[i];
        }
    }
    return NULL;
}

/* The object that something in memory belongs to. */
static const struct object *object_of(uintptr_t at) {
    for (int i = object_count - 1; i >= 0; i--) {
        if (at >= objects[i].begin && at < objects[i].end) {
            return &objects[i];
        }
    }
    return NULL;
}

const char *effects_path(GLANZ_CONST struct glanz_effect *effect) {
    const struct object *object = object_of((uintptr_t)effect);
    return object == NULL ? NULL : object->path;
}

const char *effects_symbol(GLANZ_CONST struct glanz_effect *effect) {
    Dl_info info;
    return dladdr(effect, &info) != 0 && info.dli_saddr == (const void *)effect ? info.dli_sname : NULL;
}

/* ---- crashes ---- */

static void put(const char *text) {
    size_t count = strlen(text);
    while (count > 0) {
        ssize_t written = write(2, text, count);
        if (written <= 0) {
            return;
        }
        text += written;
        count -= (size_t)written;
    }
}

/* Only what a handler may call, but for backtrace(), which was called before so that it needs no memory. */
static void on_crash(int number) {
    void *stack[64];
    int count = backtrace(stack, 64);
    const struct object *object = NULL;
    for (int i = 0; i < count && object == NULL; i++) {
        object = object_of((uintptr_t)stack[i]);
    }
    if (object == NULL) { /* nothing of it had a part in this */
        signal(number, SIG_DFL);
        raise(number);
        return;
    }
    if (effects_before_end != NULL) {
        effects_before_end();
    }
    put("glanz: ");
    put(object->path);
    put(object->set->effects[0] != NULL && object->set->effects[1] != NULL ? ": one of its effects " : ": the effect ");
    for (int i = 0; object->set->effects[i] != NULL; i++) {
        put(i == 0 ? "\"" : ", \"");
        put(object->set->effects[i]->name);
        put("\"");
    }
    put(number == SIGFPE   ? " divided by zero"
        : number == SIGILL ? " ran what is no code"
                           : " reached memory that is not its own");
    put("; expected that it keeps to its frame, its lists and its memory\n");
    build_end();
    _exit(EXIT_FOUND);
}

static void watch_crashes(void) {
    static char stack[65536];
    static const int numbers[] = {SIGSEGV, SIGBUS, SIGFPE, SIGILL};
    void *first[1];
    struct sigaction action;
    stack_t other;
    memset(&other, 0, sizeof other);
    other.ss_sp = stack;
    other.ss_size = sizeof stack;
    (void)sigaltstack(&other, NULL);
    (void)backtrace(first, 1);
    memset(&action, 0, sizeof action);
    action.sa_handler = on_crash;
    action.sa_flags = SA_ONSTACK | SA_NODEFER;
    for (size_t i = 0; i < sizeof numbers / sizeof numbers[0]; i++) {
        (void)sigaction(numbers[i], &action, NULL);
    }
}

/* ---- loading ---- */

struct wanted { /* for find_range() */
    const char *name;
    struct object *object;
};

static int find_range(struct dl_phdr_info *info, size_t size, void *user) {
    const struct wanted *wanted = (const struct wanted *)user;
    (void)size;
    if (strcmp(info->dlpi_name, wanted->name) != 0) {
        return 0;
    }
    for (int i = 0; i < info->dlpi_phnum; i++) {
        uintptr_t begin = (uintptr_t)(info->dlpi_addr + info->dlpi_phdr[i].p_vaddr);
        uintptr_t end = begin + (uintptr_t)info->dlpi_phdr[i].p_memsz;
        if (info->dlpi_phdr[i].p_type == PT_LOAD) {
            wanted->object->begin = wanted->object->begin == 0 || begin < wanted->object->begin ? begin : wanted->object->begin;
            wanted->object->end = end > wanted->object->end ? end : wanted->object->end;
        }
    }
    return 1;
}

/* @param path as it was named. @param file the shared object. */
static struct object *open_object(const char *path, const char *file, struct text *words) {
    struct text why = {NULL, 0, 0};
    struct object *object = &objects[object_count];
    struct link_map *map = NULL;
    if (object_count == OBJECTS_MOST) {
        text_print(words, "glanz: %s: it was built anew %d times while this ran; expected a new start by now\n", path,
                   OBJECTS_MOST);
        return NULL;
    }
    memset(object, 0, sizeof *object);
    void *handle = dlopen(file, RTLD_NOW | RTLD_LOCAL);
    object->set = handle == NULL ? NULL : contract_set(handle, &why);
    if (object->set == NULL) {
        text_print(words, "glanz: %s: %s\n", path, handle == NULL ? dlerror() : why.bytes);
        text_free(&why);
        return NULL;
    }
    snprintf(object->path, sizeof object->path, "%s", path);
    if (dlinfo(handle, RTLD_DI_LINKMAP, &map) == 0) {
        struct wanted wanted = {map->l_name, object};
        (void)dl_iterate_phdr(find_range, &wanted);
    }
    object_count++;
    return object;
}

/* Is a name taken by an effect that stays? */
static const char *taken_by(const char *name, const char *path) {
    GLANZ_CONST struct glanz_effect *other = effects_find(name);
    if (other == NULL) {
        return NULL;
    }
    const char *from = effects_path(other);
    return from == NULL ? "the catalogue" : path != NULL && strcmp(from, path) == 0 ? NULL : from;
}

static int may_add(const struct object *object, const char *path, const char *replaces, struct text *words) {
    int count = count_all();
    for (int i = 0; object->set->effects[i] != NULL; i++) {
        const char *other = taken_by(object->set->effects[i]->name, replaces);
        if (other != NULL) {
            text_print(words, "glanz: %s: an effect \"%s\" is in %s too; expected a name of its own\n", path,
                       object->set->effects[i]->name, other);
            return 0;
        }
        if (++count > EFFECTS_MOST) {
            text_print(words, "glanz: %s: expected at most %d effects in all\n", path, EFFECTS_MOST);
            return 0;
        }
    }
    return 1;
}

int effects_add(GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects) {
    int count = count_all();
    for (; effects != NULL && *effects != NULL; effects++) {
        if (effects_find((*effects)->name) != NULL || count == EFFECTS_MOST) {
            complain_plain(count == EFFECTS_MOST
                               ? "effects built in: expected at most %s in all"
                               : "effects built in: there is an effect \"%s\" already; expected a name of its own",
                           count == EFFECTS_MOST ? "300" : (*effects)->name);
            return EXIT_USAGE;
        }
        all[count++] = *effects;
        all[count] = NULL;
    }
    return EXIT_GOOD;
}

int effects_load(const char *path) {
    struct build build;
    memset(&build, 0, sizeof build);
    if (!build_begin(&build, path)) {
        return EXIT_FILE;
    }
    int good = build_poll(&build, 1);
    const struct object *object = good ? open_object(path, build.object, &build.words) : NULL;
    if (object != NULL && !may_add(object, path, NULL, &build.words)) {
        object_count--;
        object = NULL;
    }
    if (build.words.count != 0) {
        fwrite(build.words.bytes, 1, build.words.count, stderr);
    }
    build_free(&build);
    if (object == NULL) {
        return EXIT_REFUSED;
    }
    int count = count_all();
    for (int i = 0; object->set->effects[i] != NULL; i++) {
        all[count++] = object->set->effects[i];
    }
    watch_crashes();
    return EXIT_GOOD;
}

/* ---- exchange ---- */

int effects_exchange(struct exchanged *exchanged, const char *path, const char *file, struct text *words) {
    const struct object *object = open_object(path, file, words);
    int count = 0;
    int pairs = 0;
    if (object == NULL || !may_add(object, path, path, words)) {
        return 0;
    }
    memcpy(before, all, sizeof all);
    for (int i = 0; before[i] != NULL; i++) { /* those of other files stay where they are */
        GLANZ_CONST struct glanz_effect *after = before[i];
        const char *from = effects_path(before[i]);
        if (from != NULL && strcmp(from, path) == 0) {
            after = NULL;
            for (int j = 0; object->set->effects[j] != NULL && after == NULL; j++) {
                after = strcmp(object->set->effects[j]->name, before[i]->name) == 0 ? object->set->effects[j] : NULL;
            }
            if (pairs < EXCHANGED_MOST) {
                exchanged[pairs].before = before[i];
                exchanged[pairs++].after = after;
            }
        }
        if (after != NULL) {
            all[count++] = after;
        }
    }
    all[count] = NULL;
    for (int j = 0; object->set->effects[j] != NULL; j++) {
        if (effects_find(object->set->effects[j]->name) == NULL) {
            all[count++] = object->set->effects[j];
            all[count] = NULL;
        }
    }
    exchanged[pairs].before = NULL;
    exchanged[pairs].after = NULL;
    return 1;
}

void effects_restore(void) {
    memcpy(all, before, sizeof all);
}

/* SPDX-License-Identifier: MIT */
/* Effects of one's own are compiled, and checked against the contract, in a process of its own, beside the light. */
#include "effects.h"

#include <dlfcn.h>
#include <errno.h>
#include <fcntl.h>
#include <signal.h>
#include <stdlib.h>
#include <string.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <time.h>
#include <unistd.h>

#define WAITS_S 60 /* for the compiler */
#define CHECK_S 10 /* for the contract's check */

struct shared { /* with the process that checks */
    char stage[256];
    uint32_t checking;
};

static char folder[200]; /* where shared objects are put */
static int built;
static struct shared *shared;
static int words_pipe = -1;

void build_end(void) {
    if (folder[0] != '\0') {
        (void)rmdir(folder);
    }
}

static int make_folder(void) {
    const char *temporary = getenv("TMPDIR");
    if (folder[0] != '\0') {
        return 1;
    }
    snprintf(folder, sizeof folder, "%s/glanz-XXXXXX", temporary == NULL || strlen(temporary) > 150 ? "/tmp" : temporary);
    if (mkdtemp(folder) == NULL) {
        complain_plain("cannot make a folder %s: %s", folder, strerror(errno));
        folder[0] = '\0';
        return 0;
    }
    atexit(build_end);
    return 1;
}

static int is_source(const char *path) {
    size_t length = strlen(path);
    return length > 2 && strcmp(path + length - 2, ".c") == 0;
}

/* Where the library's headers are: beside the program as it is installed, else where it was built, else where it was to go. */
static void find_headers(char *headers, size_t size) {
    struct stat info;
    char probe[1100];
    ssize_t length = readlink("/proc/self/exe", headers, size - 1);
    char *slash = NULL;
    if (length > 0) {
        headers[length] = '\0';
        slash = strrchr(headers, '/');
    }
    if (slash != NULL && (size_t)(slash - headers) + sizeof "/../include" < size) {
        strcpy(slash, "/../include");
        snprintf(probe, sizeof probe, "%s/glanz/effects.h", headers);
        if (stat(probe, &info) == 0) {
            return;
        }
    }
    snprintf(probe, sizeof probe, "%s/glanz/effects.h", GLANZ_HEADERS);
    snprintf(headers, size, "%s", stat(probe, &info) == 0 ? GLANZ_HEADERS : GLANZ_HEADERS_INSTALLED);
}

/* In the child: never returns. */
static void compile(const char *source, const char *object) {
    char headers[1000];
    char include[1010];
    char options[] = GLANZ_BUILT_WITH;
    const char *arguments[64] = {getenv("CC") == NULL || *getenv("CC") == '\0' ? "cc" : getenv("CC")};
    int count = 1;
    find_headers(headers, sizeof headers);
    snprintf(include, sizeof include, "-I%s", headers);
    const char *flags[] = {
        "-std=c11", "-O1", "-g",   "-fPIC", "-shared", "-Wall", "-Wextra", "-DGLANZ_SHARED", "-DGLANZ_DESCRIPTIONS=1",
        include,    "-o",  object, source};
    for (char *option = strtok(options, " "); option != NULL && count < 40; option = strtok(NULL, " ")) {
        arguments[count++] = option;
    }
    for (size_t i = 0; i < sizeof flags / sizeof flags[0]; i++) {
        arguments[count++] = flags[i];
    }
    arguments[count] = NULL;
    execvp(arguments[0], (char *const *)(uintptr_t)arguments);
    fprintf(stderr, "glanz: cannot run the C compiler %s: %s; expected one, named by CC\n", arguments[0], strerror(errno));
    fflush(stderr);
    _exit(127);
}

/* In the child: never returns. */
static void compile_and_check(const char *path, const char *object) {
    struct text words = {NULL, 0, 0};
    if (is_source(path)) {
        int status = 0;
        pid_t compiler = fork();
        if (compiler == 0) {
            compile(path, object);
        }
        alarm(WAITS_S);
        if (compiler < 0 || waitpid(compiler, &status, 0) != compiler || !WIFEXITED(status) || WEXITSTATUS(status) != 0) {
            _exit(1);
        }
    }
    shared->checking = 1;
    alarm(CHECK_S);
    int good = contract_check(object, path, shared->stage, &words);
    for (size_t at = 0; at < words.count;) {
        ssize_t written = write(2, words.bytes + at, words.count - at);
        if (written <= 0) {
            break;
        }
        at += (size_t)written;
    }
    _exit(good ? 0 : 1);
}

int build_begin(struct build *build, const char *path) {
    struct stat info;
    int ends[2];
    if (stat(path, &info) != 0 || S_ISDIR(info.st_mode)) {
        complain_plain("cannot open %s: %s", path, S_ISDIR(info.st_mode) ? "it is a folder" : strerror(errno));
        return 0;
    }
    if (shared == NULL) {
        void *page = mmap(NULL, sizeof *shared, PROT_READ | PROT_WRITE, MAP_SHARED | MAP_ANONYMOUS, -1, 0);
        shared = page == MAP_FAILED ? NULL : (struct shared *)page;
    }
    if (shared == NULL || (is_source(path) && !make_folder()) || pipe(ends) != 0) {
        return 0;
    }
    memset(shared, 0, sizeof *shared);
    text_free(&build->words);
    if (is_source(path)) {
        snprintf(build->object, sizeof build->object, "%s/%d.so", folder, built++);
    } else if (strchr(path, '/') != NULL) {
        snprintf(build->object, sizeof build->object, "%s", path);
    } else {
        snprintf(build->object, sizeof build->object, "./%s", path); /* a name alone is looked for elsewhere */
    }
    fflush(stdout);
    fflush(stderr);
    build->pid = fork();
    if (build->pid == 0) {
        (void)setpgid(0, 0); /* ends with all it began */
        (void)dup2(ends[1], 2);
        (void)dup2(ends[1], 1);
        close(ends[0]);
        static const int numbers[] = {SIGSEGV, SIGBUS, SIGFPE, SIGILL, SIGABRT, SIGINT, SIGTERM};
        for (size_t i = 0; i < sizeof numbers / sizeof numbers[0]; i++) {
            signal(numbers[i], SIG_DFL);
        }
        compile_and_check(path, build->object);
    }
    close(ends[1]);
    words_pipe = ends[0];
    (void)fcntl(words_pipe, F_SETFL, O_NONBLOCK);
    if (build->pid < 0) {
        close(ends[0]);
        build->pid = 0;
        complain_plain("cannot begin a process: %s", strerror(errno));
        return 0;
    }
    return 1;
}

/* What ended the process that checks, in words. */
static void tell_end(struct build *build, int status) {
    if (WIFEXITED(status)) {
        return; /* it said itself what is wrong */
    }
    int number = WTERMSIG(status);
    text_print(&build->words, "glanz: %s: %s\n", shared->checking ? shared->stage : "the compiler",
               number == SIGALRM                       ? "it did not come to an end; expected it within some seconds"
               : number == SIGFPE                      ? "it crashed: it divided by zero"
               : number == SIGSEGV || number == SIGBUS ? "it crashed: it reached memory that is not its own"
                                                       : "it crashed");
}

int build_poll(struct build *build, int wait) {
    char part[4096];
    int status = 0;
    ssize_t count;
    for (;;) {
        struct timespec moment = {0, 1000000};
        while ((count = read(words_pipe, part, sizeof part)) > 0) { /* so that it is never full */
            text_add(part, (size_t)count, &build->words);
        }
        pid_t ended = waitpid(build->pid, &status, WNOHANG);
        if (ended == build->pid) {
            break;
        }
        if (!wait) {
            return -1;
        }
        nanosleep(&moment, NULL);
    }
    while ((count = read(words_pipe, part, sizeof part)) > 0) {
        text_add(part, (size_t)count, &build->words);
    }
    close(words_pipe);
    build->pid = 0;
    tell_end(build, status);
    return WIFEXITED(status) && WEXITSTATUS(status) == 0;
}

void build_taken(const struct build *build) {
    if (folder[0] != '\0' && strncmp(build->object, folder, strlen(folder)) == 0) {
        (void)unlink(build->object); /* what is open stays in memory */
    }
}

void build_free(struct build *build) {
    if (build->pid > 0) {
        (void)kill(-build->pid, SIGKILL);
        (void)waitpid(build->pid, NULL, 0);
        close(words_pipe);
    }
    build_taken(build);
    text_free(&build->words);
    memset(build, 0, sizeof *build);
}

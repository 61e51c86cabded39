package org.juratest.server.web;

import java.net.URI;
import java.time.LocalDate;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ThreadLocalRandom;
import org.jspecify.annotations.Nullable;
import org.juratest.core.port.GearException;
import org.juratest.core.run.Refusal;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.json.JsonFault;
import org.juratest.formats.procedure.ProcedureException;
import org.juratest.formats.run.EventDataException;
import org.juratest.formats.table.TableException;
import org.juratest.server.db.Failure;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.HttpStatusCode;
import org.springframework.http.MediaType;
import org.springframework.http.ProblemDetail;
import org.springframework.http.ResponseEntity;
import org.springframework.http.converter.HttpMessageNotReadableException;
import org.springframework.http.converter.HttpMessageNotWritableException;
import org.springframework.security.access.AccessDeniedException;
import org.springframework.security.core.AuthenticationException;
import org.springframework.transaction.TransactionException;
import org.springframework.validation.FieldError;
import org.springframework.web.bind.MethodArgumentNotValidException;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.context.request.WebRequest;
import org.springframework.web.method.annotation.MethodArgumentTypeMismatchException;
import org.springframework.web.servlet.mvc.method.annotation.ResponseEntityExceptionHandler;
import org.springframework.web.servlet.resource.NoResourceFoundException;
import tools.jackson.core.JacksonException;

/** Turns what goes wrong into RFC 9457 problem details: the one place where their prose is made. */
@RestControllerAdvice
public class Problems extends ResponseEntityExceptionHandler {

    private static final Logger LOG = LoggerFactory.getLogger(Problems.class);

    private static final String OURS = "org.juratest.";

    private static ProblemDetail problem(
            HttpStatus status, String type, @Nullable String detail, @Nullable String field) {
        ProblemDetail problem = ProblemDetail.forStatusAndDetail(status, String.valueOf(detail));
        // A kind of thing may be two words.
        problem.setType(URI.create("/problems/" + type.replaceAll("[^A-Za-z0-9-]", "-")));
        problem.setTitle(type.replace('-', ' '));
        if (field != null && !field.isEmpty()) {
            problem.setProperty("field", field);
        }
        return problem;
    }

    /** The problem that an exception is, for those who tell it in another way than by their answer's status. */
    public ProblemDetail of(RuntimeException e) {
        if (e instanceof Refusal refusal) {
            return refused(refusal);
        } else if (e instanceof NotFoundException missing) {
            return notFound(missing);
        } else if (e instanceof FieldsException wrong) {
            return fields(wrong);
        } else if (e instanceof TableException table) {
            return table(table);
        } else if (e instanceof DataAccessException data) {
            return database(data);
        } else if (e instanceof EventDataException data) {
            return eventData(data);
        } else if (e instanceof IllegalArgumentException value) {
            return value(value);
        }
        return e instanceof TransactionException broken ? transaction(broken) : anything(e);
    }

    @ExceptionHandler
    ProblemDetail refused(Refusal e) {
        return problem(
                e.code().startsWith("unknown-") && e.field() == null ? HttpStatus.NOT_FOUND : HttpStatus.CONFLICT,
                e.code(),
                e.getMessage(),
                e.field());
    }

    @ExceptionHandler
    ProblemDetail notFound(NotFoundException e) {
        return problem(HttpStatus.NOT_FOUND, "unknown-" + e.kind(), e.getMessage(), null);
    }

    @ExceptionHandler
    ProblemDetail precondition(PreconditionException e) {
        ProblemDetail problem = e.isMissing()
                ? problem(HttpStatus.PRECONDITION_REQUIRED, "if-match-missing", e.getMessage(), "If-Match")
                : problem(HttpStatus.PRECONDITION_FAILED, "run-moved-on", e.getMessage(), "If-Match");
        if (!e.isMissing()) {
            problem.setProperty("personEvents", e.actual());
        }
        return problem;
    }

    @ExceptionHandler
    ProblemDetail gear(GearException e) {
        return problem(
                HttpStatus.CONFLICT,
                "gear-" + e.fault().name().toLowerCase(Locale.ROOT).replace('_', '-'),
                "The gear cannot be used: " + e.getMessage() + ".",
                null);
    }

    @ExceptionHandler
    ProblemDetail procedure(ProcedureException e) {
        ProblemDetail problem = problem(
                HttpStatus.UNPROCESSABLE_CONTENT,
                "procedure-invalid",
                "The procedure cannot be used: " + e.getMessage() + ".",
                e.problems().get(0).path());
        problem.setProperty(
                "problems",
                e.problems().stream()
                        .map(p -> Map.of("path", p.path(), "what", p.what()))
                        .toList());
        return problem;
    }

    @ExceptionHandler
    ProblemDetail fields(FieldsException e) {
        ProblemDetail problem = problem(
                HttpStatus.UNPROCESSABLE_CONTENT,
                "fields-invalid",
                e.getMessage(),
                e.problems().get(0).field());
        problem.setProperty(
                "problems",
                e.problems().stream()
                        .map(p -> Map.of("field", p.field(), "what", p.what()))
                        .toList());
        return problem;
    }

    @ExceptionHandler
    ProblemDetail table(TableException e) {
        return problem(
                HttpStatus.UNPROCESSABLE_CONTENT,
                "table-invalid",
                "The table cannot be read: " + e.getMessage() + ".",
                e.field());
    }

    @ExceptionHandler
    ProblemDetail eventData(EventDataException e) {
        return problem(HttpStatus.UNPROCESSABLE_CONTENT, "data-invalid", e.getMessage(), e.field());
    }

    /** What our own code refuses is told; what a library stumbles over is a fault of ours. */
    @ExceptionHandler
    ProblemDetail value(IllegalArgumentException e) {
        StackTraceElement[] from = e.getStackTrace();
        if (from.length == 0 || !from[0].getClassName().startsWith(OURS)) {
            return broken(e);
        }
        LOG.info("refused: {}", e.getMessage());
        return problem(HttpStatus.UNPROCESSABLE_CONTENT, "value-invalid", e.getMessage(), null);
    }

    @ExceptionHandler
    ProblemDetail mismatch(MethodArgumentTypeMismatchException e) {
        if (e.getParameter().hasParameterAnnotation(RequestParam.class)) {
            String kind =
                    LocalDate.class.equals(e.getRequiredType()) ? "a day such as 2026-11-27" : "a value this can be";
            return problem(
                    HttpStatus.UNPROCESSABLE_CONTENT,
                    "value-invalid",
                    "\"" + e.getValue() + "\" is not " + kind + ".",
                    e.getName());
        }
        return problem(
                HttpStatus.NOT_FOUND,
                "unknown-" + e.getName(),
                "There is no " + e.getName() + " \"" + e.getValue() + "\".",
                e.getName());
    }

    /** Of an address whose values are read together, such as filters. */
    @Override
    protected @Nullable ResponseEntity<Object> handleMethodArgumentNotValid(
            MethodArgumentNotValidException e, HttpHeaders headers, HttpStatusCode status, WebRequest request) {
        FieldError wrong = e.getBindingResult().getFieldError();
        return wrong == null
                ? super.handleMethodArgumentNotValid(e, headers, status, request)
                : ResponseEntity.status(HttpStatus.UNPROCESSABLE_CONTENT)
                        .body(problem(
                                HttpStatus.UNPROCESSABLE_CONTENT,
                                "value-invalid",
                                "\"" + wrong.getRejectedValue() + "\" is not a value this can be.",
                                wrong.getField()));
    }

    @ExceptionHandler
    ProblemDetail signIn(AuthenticationException e) {
        return problem(HttpStatus.UNAUTHORIZED, "sign-in-failed", "Name or password is not right.", null);
    }

    @ExceptionHandler
    ProblemDetail notYours(NotAllowedException e) {
        return problem(HttpStatus.FORBIDDEN, "not-allowed", e.getMessage(), null);
    }

    @ExceptionHandler
    ResponseEntity<ProblemDetail> tooFast(TooFastException e) {
        return ResponseEntity.status(HttpStatus.TOO_MANY_REQUESTS)
                .header(HttpHeaders.RETRY_AFTER, String.valueOf(e.seconds()))
                .body(problem(HttpStatus.TOO_MANY_REQUESTS, "too-fast", e.getMessage(), null));
    }

    @ExceptionHandler
    ResponseEntity<ProblemDetail> crowded(CrowdedException e) {
        return ResponseEntity.status(HttpStatus.SERVICE_UNAVAILABLE)
                .header(HttpHeaders.RETRY_AFTER, "5")
                .body(problem(HttpStatus.SERVICE_UNAVAILABLE, "too-many", e.getMessage(), null));
    }

    @ExceptionHandler
    ProblemDetail denied(AccessDeniedException e) {
        return problem(HttpStatus.FORBIDDEN, "not-allowed", "Your role does not allow this.", null);
    }

    @ExceptionHandler
    ProblemDetail database(DataAccessException e) {
        Failure failure = Failure.of(e);
        if (failure == Failure.UNAVAILABLE) {
            LOG.warn("the database does not answer: {}", e.getMessage());
        }
        return switch (failure) {
            case CONFLICT ->
                problem(HttpStatus.CONFLICT, "already-there", "Someone else has just done this. Look again.", null);
            case REFERENCE ->
                problem(
                        HttpStatus.CONFLICT,
                        "still-needed",
                        "Something this refers to does not exist, or is still used.",
                        null);
            case INVALID ->
                problem(
                        HttpStatus.UNPROCESSABLE_CONTENT,
                        "value-invalid",
                        "A value is outside what can be stored.",
                        null);
            case UNAVAILABLE -> unavailable();
            case OTHER -> broken(e);
        };
    }

    @ExceptionHandler
    ProblemDetail transaction(TransactionException e) {
        LOG.warn("no transaction: {}", e.getMessage());
        return unavailable();
    }

    private static ProblemDetail unavailable() {
        return problem(
                HttpStatus.SERVICE_UNAVAILABLE,
                "database-away",
                "The database does not answer. Nothing was stored; try again.",
                null);
    }

    /** What nobody foresaw is logged with a number, and the person is shown it. */
    private static ProblemDetail broken(Exception e) {
        String number = Long.toString(
                        ThreadLocalRandom.current().nextLong(36L * 36 * 36 * 36 * 36, 36L * 36 * 36 * 36 * 36 * 36), 36)
                .toUpperCase(Locale.ROOT);
        LOG.error("fault {}", number, e);
        ProblemDetail problem = problem(
                HttpStatus.INTERNAL_SERVER_ERROR,
                "our-fault",
                "The program failed. Nothing was stored. Tell whoever looks after it the number of this fault: "
                        + number + ".",
                null);
        problem.setProperty("fault", number);
        return problem;
    }

    @ExceptionHandler
    ResponseEntity<ProblemDetail> tooMany(HeavyWork.TooManyException e) {
        return ResponseEntity.status(HttpStatus.SERVICE_UNAVAILABLE)
                .header(HttpHeaders.RETRY_AFTER, "30")
                .body(problem(HttpStatus.SERVICE_UNAVAILABLE, "too-many", e.getMessage(), null));
    }

    @ExceptionHandler
    ProblemDetail anything(RuntimeException e) {
        return broken(e);
    }

    @Override
    protected @Nullable ResponseEntity<Object> handleHttpMessageNotReadable(
            HttpMessageNotReadableException e, HttpHeaders headers, HttpStatusCode status, WebRequest request) {
        Throwable cause = e.getMostSpecificCause();
        if (cause instanceof BodyLimits.TooLargeException) {
            return ResponseEntity.status(HttpStatus.CONTENT_TOO_LARGE)
                    .body(problem(HttpStatus.CONTENT_TOO_LARGE, "too-large", cause.getMessage(), "body"));
        }
        String field = cause instanceof JacksonException json ? CoreJson.path(json) : "";
        String words =
                cause instanceof JacksonException json ? JsonFault.words(json) : "it has no body that can be read";
        return ResponseEntity.badRequest()
                .body(problem(
                        HttpStatus.BAD_REQUEST,
                        "cannot-be-read",
                        "The request cannot be read" + (field.isEmpty() ? "" : " at " + field) + ": " + words + ".",
                        field));
    }

    /** An answer that could not be written is our fault as well, and no request's. */
    @Override
    protected @Nullable ResponseEntity<Object> handleHttpMessageNotWritable(
            HttpMessageNotWritableException e, HttpHeaders headers, HttpStatusCode status, WebRequest request) {
        return ResponseEntity.internalServerError().body(broken(e));
    }

    /** A person who followed a wrong address gets the program's page, which says so; a program gets the problem. */
    @Override
    protected @Nullable ResponseEntity<Object> handleNoResourceFoundException(
            NoResourceFoundException e, HttpHeaders headers, HttpStatusCode status, WebRequest request) {
        String accepts = String.valueOf(request.getHeader(HttpHeaders.ACCEPT));
        if (accepts.contains(MediaType.TEXT_HTML_VALUE) && !e.getResourcePath().startsWith("api/")) {
            return ResponseEntity.status(HttpStatus.NOT_FOUND)
                    .contentType(MediaType.TEXT_HTML)
                    .body(PagesController.PAGE);
        }
        return ResponseEntity.status(HttpStatus.NOT_FOUND)
                .body(problem(
                        HttpStatus.NOT_FOUND,
                        "unknown-address",
                        "There is nothing at /" + e.getResourcePath() + ".",
                        null));
    }
}

package org.juratest.server.curve;

import java.security.Principal;
import java.util.List;
import org.juratest.formats.curve.CurveJson;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** The curve library: what there is, drawn at some settings; own models; export and import as JSON. */
@RestController
@RequestMapping("/api")
class CurveController {

    private final Curves curves;
    private final CurveModels models;

    CurveController(Curves curves, CurveModels models) {
        this.curves = curves;
        this.models = models;
    }

    @GetMapping("/curve-models")
    List<CurveModelView> models() {
        return models.views();
    }

    /** The band of a model, or of one that is being made, at some settings. */
    @PostMapping("/curve-models/preview")
    CurveModelView.CurvePreview preview(@RequestBody CurveModelView.CurveTrial trial) {
        return models.preview(trial);
    }

    /** Keeps a model of one's own, or a new revision of it. */
    @PutMapping("/curve-models/{id}")
    CurveModelView keep(@PathVariable String id, @RequestBody CurveModelView.CurveForm given, Principal person) {
        return models.keep(id, given, person.getName());
    }

    @GetMapping(path = "/curves", produces = MediaType.APPLICATION_JSON_VALUE)
    byte[] export(@RequestParam(defaultValue = "") List<String> id) {
        return CurveJson.write(curves.models(id));
    }

    @PostMapping("/curves")
    @ResponseStatus(HttpStatus.CREATED)
    List<String> take(@RequestBody byte[] document, Principal person) {
        return models.take(CurveJson.read(document), person.getName());
    }
}

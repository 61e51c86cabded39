package org.juratest.server.curve;

import java.util.List;
import org.juratest.core.curve.CurveModel;
import org.juratest.formats.curve.CurveJson;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** The curve library: export and import as JSON. */
@RestController
@RequestMapping("/api/curves")
class CurveController {

    private final Curves curves;

    CurveController(Curves curves) {
        this.curves = curves;
    }

    @GetMapping(produces = MediaType.APPLICATION_JSON_VALUE)
    byte[] export(@RequestParam(defaultValue = "") List<String> id) {
        return CurveJson.write(curves.models(id));
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    List<String> take(@RequestBody byte[] document) {
        List<CurveModel> models = CurveJson.read(document);
        curves.add(models);
        return models.stream().map(CurveModel::id).toList();
    }
}
